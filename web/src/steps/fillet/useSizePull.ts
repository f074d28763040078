import { useCallback, useRef, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { farAlong, onwards } from "../../scene/alongWay";
import type { Grip, Pull } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";

type Triple = readonly [number, number, number];
type Run = NonNullable<BodySummary["blended"]>[number];

/** A size at a place along a run: where its numbers stand in the step, and what they are. field: of the size. place: null where it is one for all. */
interface Size {
  set: number;
  field: "radius" | "distance";
  place: number | null;
  at: number;
  size: number;
}

const ORIGIN: Triple = [0, 0, 0];
/** Halfway, where a size that is one for all is shown. */
const MIDDLE = 0.5;
/** Places keep so far from each other, as shares of the length. */
const APART = 0.01;
/** A size is pulled by so many to one mm; a small one more finely. */
const STEPS = 10;
const FINE = 100;

/** Marks along the edges that the selected step rounds or cuts off: how much there, and where. */
export function useSizePull(viewport: RefObject<Viewport | null>) {
  const { live, place } = useFloor();
  const { design } = useHead();
  const held = usePulled<Size>();
  /** How the edges ran when a size was taken hold of: previews say nothing of it until what is kept does. */
  const known = useRef<readonly Run[]>([]);

  const shown = useCallback((): { step: Step; run: Run; sizes: Size[] }[] => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const status = live.built.getState().steps[step?.id ?? ""];
    if (!step || status?.summary?.result !== "body") return [];
    const taken = held.taken();
    const { blended } = status.summary;
    if (blended && !taken) known.current = [];
    return (blended ?? known.current).map((run) => ({
      step,
      run,
      sizes: sizesOf(step, run.set, status.values ?? {}).map((size) => (taken && same(taken, size) ? taken : size)),
    }));
  }, [design, live, place, held]);

  const grips = useCallback((): Grip[] => {
    const runs = shown();
    return runs.flatMap(({ run, sizes }) =>
      sizes.flatMap((size): Grip[] => {
        const { foot, inwards, reach } = placeAt(run, size.at);
        const which = size.place === null ? "" : ` ${size.place + 1}`;
        const set = runs.length > 1 ? `, set ${size.set + 1}` : "";
        const name = `${size.set} ${size.place ?? "all"}`;
        const tip: Grip = {
          id: `size tip ${name}`,
          label: `${size.field === "radius" ? "Radius" : "Distance"}${which} at the edge${set}`,
          at: onwards(foot, inwards, reach * size.size),
          from: foot,
          kind: "handle",
        };
        if (size.place === null) return [tip];
        return [{ id: `size foot ${name}`, label: `Place${which} on the edge${set}`, at: foot, kind: "point" }, tip];
      }),
    );
  }, [shown]);

  const pull: Pull = (id, phase, pulled) => {
    if (phase === "end") {
      held.letGo();
      return;
    }
    const [, part, set, which] = id.split(" ");
    const all = shown();
    const found = all.find(({ run }) => run.set === Number(set));
    const size = found?.sizes.find((each) => String(each.place ?? "all") === which);
    if (!pulled || !found || !size) return;
    if (phase === "start") {
      known.current = all.map(({ run }) => run);
      held.take({ ...size });
    }
    const taken = held.taken();
    if (!taken || !same(taken, size)) return;
    const path = ["sets", taken.set, ...(taken.place === null ? [] : ["along", taken.place])];
    if (part === "foot") {
      const spot = viewport.current?.nearest(found.run.places, pulled.x, pulled.y);
      if (!spot) return;
      const share = (spot.index + spot.part) / (found.run.places.length - 1);
      taken.at = Math.round(between(found.sizes, taken, share) * FINE) / FINE;
      held.follow([{ do: "set-param", step: found.step.id, path: [...path, "at"], value: taken.at }]);
      return;
    }
    const eye = viewport.current?.towardsEye();
    const { foot, inwards, reach } = placeAt(found.run, taken.at);
    const far = eye && farAlong(foot, inwards, pulled.there, eye);
    if (far === null || far === undefined || reach === 0) return;
    const steps = far / reach < 1 ? FINE : STEPS;
    taken.size = Math.max(1, Math.round((far / reach) * steps)) / steps;
    held.follow([{ do: "set-param", step: found.step.id, path: [...path, taken.field], value: taken.size }]);
  };

  return { grips, pull };
}

const same = (a: Size, b: Size): boolean => a.set === b.set && a.place === b.place;

/** What a set of a fillet or a chamfer says of sizes that can be shown on the first of the faces, as a number each. */
function sizesOf(step: Step, set: number, values: Record<string, number>): Size[] {
  const said = ((step.params["sets"] ?? []) as Record<string, unknown>[])[set] ?? {};
  const field = step.kind === "chamfer" ? "distance" : "radius";
  if (field === "distance" && (said["way"] ?? "equal") !== "equal") return [];
  const worth = (path: string, value: unknown, otherwise: number) =>
    typeof value === "number" ? value : (values[`sets.${set}.${path}`] ?? otherwise);
  const along = (said["along"] ?? []) as Record<string, unknown>[];
  if (!along.length)
    return [{ set, field, place: null, at: MIDDLE, size: worth(field, said[field], field === "radius" ? 2 : 1) }];
  return along.map((each, k) => ({
    set,
    field,
    place: k,
    at: worth(`along.${k}.at`, each["at"], 0),
    size: worth(`along.${k}.radius`, each["radius"], 2),
  }));
}

/** A share of the length, kept between those of the places before and after. */
function between(sizes: readonly Size[], { place, at }: Size, share: number): number {
  const others = sizes.filter((size) => size.place !== place).map((size) => size.at);
  const low = Math.max(0, ...others.filter((other) => other < at).map((other) => other + APART));
  const high = Math.min(1, ...others.filter((other) => other > at).map((other) => other - APART));
  return Math.min(Math.max(share, low), Math.max(low, high));
}

/** Where a share of the length of a run is, and what the run is like there. */
function placeAt({ places, inwards, reach }: Run, share: number) {
  const count = places.length - 1;
  const number = Math.min(Math.max(Math.floor(share * count), 0), count - 1);
  const part = Math.min(Math.max(share * count - number, 0), 1);
  const a: Triple = places[number] ?? ORIGIN;
  const b: Triple = places[number + 1] ?? a;
  const nearer = part < 0.5 ? number : number + 1;
  return {
    foot: [a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part, a[2] + (b[2] - a[2]) * part] as const,
    inwards: inwards[nearer] ?? ([0, 0, 1] as const),
    reach: reach[nearer] ?? 1,
  };
}
