import { useEffect, type RefObject } from "react";
import { useBuilt, useDocument, usePlace } from "../floor/context";
import { valueAtPath, type Reference } from "../picking/answer";
import { bodyIn } from "../steps/bodies";
import { bodyGeometry } from "./bodyGeometry";
import type { Viewport } from "./viewport";

/** While parts of a body are picked for a step that changes it: those that are picked, as they were on the body that it works on. */
export function usePickedBefore(viewport: RefObject<Viewport | null>): void {
  const picking = usePlace((place) => place.picking);
  const { steps } = useDocument();
  const asking = picking?.many ? steps.find(({ id }) => id === picking.step) : undefined;
  const body = asking ? bodyIn(asking) : "";
  const stands = useBuilt((built) => built.standing?.includes(body) ?? false);
  const mesh = useBuilt((built) => built.steps[body]?.mesh ?? null);
  const picked = picking && asking && !stands ? ((valueAtPath(asking, picking.path) ?? []) as Reference[]) : [];
  const names = JSON.stringify(picked.flatMap(({ step, part }) => (step === body && part ? [part] : [])));

  useEffect(() => {
    let wanted = true;
    const known = JSON.parse(names) as string[];
    if (!mesh || !known.length) viewport.current?.setPickedBefore(null);
    else
      void bodyGeometry(mesh)
        .then((geometry) => {
          if (wanted) viewport.current?.setPickedBefore({ body, geometry, names: known });
        })
        // a mesh that is kept no longer: what was picked is still told by its chips
        .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [viewport, body, mesh, names]);
}
