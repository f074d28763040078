import { useCallback, useRef, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import type { Grip, Pull } from "../../scene/grips";
import { onwards } from "../../scene/alongWay";
import type { StagedRail } from "../../scene/stage";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";
import { railSummary, type Triple } from "../rail/rails";

type Paired = NonNullable<BodySummary["paired"]>;
type Side = "first" | "second";

/** What was taken hold of: the rail as it lay then, where on it, and how far on it began. way: whether it is drawn the way it is run. */
interface Taken {
  side: Side;
  line: Triple[];
  from: number;
  had: number;
  way: 1 | -1;
}

const SIDES: readonly Side[] = ["first", "second"];
/** Where each of them begins, by name of the parameter. */
const BEGINS = { first: "begin", second: "start" } as const;
/** Length of the sign for the direction against the size of the body. */
const WAY = 0.07;

/** Marks on the rails of the selected body between two: where they begin and which way they run, and rungs from what belongs together to the other. */
export function usePairPull(viewport: RefObject<Viewport | null>) {
  const { live, place, change } = useFloor();
  const { design } = useHead();
  const held = usePulled<Taken>();
  /** Letting go of what was pulled is a click as well. */
  const wasPulled = useRef(false);

  const found = useCallback((): { step: Step; summary: BodySummary; paired: Paired } | null => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const summary = live.built.getState().steps[step?.id ?? ""]?.summary;
    if (step?.kind !== "between" || summary?.result !== "body" || !summary.paired) return null;
    return { step, summary, paired: summary.paired };
  }, [design, live, place]);

  const railOf = (step: Step, side: Side) => (step.params[side] as { step: string }).step;

  const grips = useCallback((): Grip[] => {
    const now = found();
    if (!now || now.step.params["pairing"] === "spine") return [];
    const { low, high } = now.summary;
    const reach = WAY * Math.hypot(...high.map((v, i) => v - (low[i] ?? 0)));
    return SIDES.flatMap((side, i): Grip[] => {
      const at = now.paired.rungs[0]?.[i];
      const way = now.paired.ways[i];
      if (!at || !way) return [];
      const name = design.document.steps.find((s) => s.id === railOf(now.step, side))?.name ?? "";
      return [
        { id: `pair ${side}`, label: `Where ${name} begins`, at, towards: onwards(at, way, reach), kind: "start" },
      ];
    });
  }, [design, found]);

  const lines = useCallback(
    (): StagedRail[] =>
      (found()?.paired.rungs ?? []).map((rung, i) => ({
        id: `rung ${i}`,
        line: new Float32Array(rung.flat()),
        mute: true,
      })),
    [found],
  );

  const pull: Pull = (id, phase, pulled) => {
    if (phase === "end") {
      held.letGo();
      return;
    }
    const now = found();
    if (!now) return;
    const side: Side = id === "pair first" ? "first" : "second";
    const against = now.step.params["against"] === true;
    if (phase === "start") wasPulled.current = true;
    if (phase === "pick") {
      // a click turns the second one round
      if (!wasPulled.current && side === "second")
        void change([{ do: "set-param", step: now.step.id, path: ["against"], value: !against }]);
      wasPulled.current = false;
      return;
    }
    if (!pulled || !now.paired.closed) return;
    const status = live.built.getState().steps[now.step.id];
    const rail = railSummary(live.built.getState().steps[railOf(now.step, side)]);
    const line = held.taken()?.line ?? (rail?.points as Triple[] | undefined);
    const spot = line && viewport.current?.nearest(line, pulled.x, pulled.y);
    if (!line || !spot) return;
    const at = shareOf(line, spot.index, spot.part);
    if (phase === "start") {
      const name = BEGINS[side];
      const had = status?.values?.[name] ?? Number(now.step.params[name] ?? 0);
      const run = now.paired.ways[side === "first" ? 0 : 1];
      const drawn = between(line[spot.index] ?? [0, 0, 0], line[spot.index + 1] ?? [0, 0, 0]);
      const along = run[0] * drawn[0] + run[1] * drawn[1] + run[2] * drawn[2] >= 0;
      // how far on it begins is counted before it is turned round
      held.take({ side, line, from: at, had, way: along !== (side === "second" && against) ? 1 : -1 });
    }
    const taken = held.taken();
    if (taken?.side !== side) return;
    const value = (Math.round((taken.had + taken.way * (at - taken.from) + 2) * 1e4) / 1e4) % 1;
    held.follow([{ do: "set-param", step: now.step.id, path: [BEGINS[side]], value }]);
  };

  return { grips, lines, pull };
}

const between = (a: Triple, b: Triple): Triple => [b[0] - a[0], b[1] - a[1], b[2] - a[2]];

/** The share of the length of a line at a place between two of its points. */
function shareOf(line: readonly Triple[], index: number, part: number): number {
  const steps = line.slice(1).map((point, i) => Math.hypot(...between(line[i] ?? point, point)));
  const whole = steps.reduce((sum, step) => sum + step, 0);
  const before = steps.slice(0, index).reduce((sum, step) => sum + step, 0);
  return (before + part * (steps[index] ?? 0)) / (whole || 1);
}
