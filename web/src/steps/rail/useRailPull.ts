import { outlineInSpace } from "../../model/lines";
import { useCallback, type RefObject } from "react";
import { useFloor, useHead } from "../../floor/context";
import { sectionSummary } from "../../model/outline";
import { railPoints, railSummary, setPoints, shareBetween, withPoint, type Triple } from "./rails";
import type { Grip, Pull, Pulled } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";

/** How near, in pixels, a free point has to come to the outline of a section to lie on it. */
const NEAR = 9;
/** Length of a new handle against the length of its rail. */
const HANDLE = 1 / 8;

const tidy = (v: number): number => Math.round(v * 100) / 100;

/** The grips of a rail through points, and pulling them: the rail follows, letting go keeps it, Esc puts it back. */
export function useRailPull(viewport: RefObject<Viewport | null>) {
  const { live, place } = useFloor();
  const { design } = useHead();
  const held = usePulled<string>();

  const grips = useCallback((): Grip[] => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected) ?? null;
    const summary = railSummary(live.built.getState().steps[step?.id ?? ""]);
    const points = railPoints(step);
    if (!summary || summary.through.length !== points.length) return [];
    return points.flatMap((point, i): Grip[] => {
      const at = summary.through[i] as Triple;
      const shown: Grip[] = [{ id: `${i}`, label: `Point ${i + 1}`, at, kind: "point" }];
      const handle = numbers(point.handle);
      if (handle) {
        const end: Triple = [at[0] + handle[0], at[1] + handle[1], at[2] + handle[2]];
        shown.push({ id: `${i} handle`, label: `Handle of point ${i + 1}`, at: end, from: at, kind: "handle" });
      }
      return shown;
    });
  }, [design, live, place]);

  const pull: Pull = (id, phase, pulled) => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected) ?? null;
    const points = railPoints(step);
    const number = parseInt(id, 10);
    if (!step || !points[number] || phase === "pick") return;
    if (phase === "end") {
      held.letGo();
      return;
    }
    if (phase === "start") held.take(id);
    if (!pulled || held.taken() !== id) return;
    const changed = id.endsWith("handle") ? handleTo(number, pulled) : pointTo(number, pulled);
    if (!changed) return;
    held.follow(setPoints(step.id, withPoint(points, number, changed)));

    function handleTo(i: number, { there }: Pulled) {
      const at = railSummary(live.built.getState().steps[step?.id ?? ""])?.through[i];
      return at ? { handle: there.map((v, k) => tidy(v - (at[k] ?? 0))) } : null;
    }
    function pointTo(i: number, { x, y, there }: Pulled) {
      const own = points[i]?.on?.section.step;
      const { steps } = live.built.getState();
      const candidates = own ? [own] : Object.keys(steps);
      const found = candidates.flatMap((section) => {
        const summary = sectionSummary(steps[section]);
        if (!summary || summary.outline.length < 2 || !summary.closed) return [];
        const ring = outlineInSpace(summary);
        const spot = viewport.current?.nearest([...ring, ring[0] as Triple], x, y);
        return spot ? [{ section, summary, ...spot }] : [];
      });
      const best = found.sort((a, b) => a.pixels - b.pixels)[0];
      if (best && (own || best.pixels < NEAR))
        return {
          on: { section: { step: best.section }, at: shareBetween(best.summary, best.index, best.part) },
          at: null,
        };
      return own ? null : { at: there.map(tidy), on: null };
    }
  };

  return { grips, pull };
}

function numbers(values: readonly (number | string)[] | null | undefined): Triple | null {
  return values?.every((v) => typeof v === "number") ? (values as unknown as Triple) : null;
}

/** A handle along a rail at one of its points, from its neighbours. */
export function handleAt(through: readonly Triple[], number: number, length: number): number[] {
  const [a, b] = [through[Math.max(number - 1, 0)], through[Math.min(number + 1, through.length - 1)]];
  if (!a || !b) return [0, 0, length * HANDLE];
  const way = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const size = Math.hypot(...way) || 1;
  return way.map((v) => tidy((v / size) * length * HANDLE));
}
