import { useEffect, type RefObject } from "react";
import { useBuilt, useDocument, usePlace } from "../floor/context";
import { valueAtPath, type Reference } from "../picking/answer";
import { bodyGeometry } from "./bodyGeometry";
import type { PickedOn } from "./picked";
import type { Viewport } from "./viewport";

/** One body and what is picked of it. */
interface Wanted {
  body: string;
  mesh: string;
  names: string[];
}

/** While parts of bodies are picked: those that are, on the bodies as they are to the step that asks. */
export function usePicked(viewport: RefObject<Viewport | null>): void {
  const picking = usePlace((place) => place.picking);
  const { steps } = useDocument();
  const asking = picking?.many ? steps.find(({ id }) => id === picking.step) : undefined;
  const picked = picking && asking ? ((valueAtPath(asking, picking.path) ?? []) as Reference[]) : [];
  const wanted = useBuilt((built) => {
    const bodies = [...new Set(picked.map(({ step }) => step))];
    return JSON.stringify(
      bodies.flatMap((body): Wanted[] => {
        const mesh = built.steps[body]?.mesh;
        const names = picked.flatMap(({ step, part }) => (step === body && part ? [part] : []));
        return mesh && names.length ? [{ body, mesh, names }] : [];
      }),
    );
  });

  useEffect(() => {
    let current = true;
    const show = async () => {
      const shown = (JSON.parse(wanted) as Wanted[]).map(async ({ body, mesh, names }): Promise<PickedOn> => ({
        body,
        geometry: await bodyGeometry(mesh),
        names,
      }));
      const on = await Promise.all(shown);
      if (current) viewport.current?.setPicked(on);
    };
    // a mesh that is kept no longer: what is picked is still told by its chips
    void show().catch(() => undefined);
    return () => {
      current = false;
    };
  }, [viewport, wanted]);
}
