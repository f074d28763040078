import { useCallback, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { outlineInSpace } from "../../model/lines";
import { sectionSummary } from "../../model/outline";
import { farAlong, onwards } from "../../scene/alongWay";
import type { Grip, Pull } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";
import type { Triple } from "../rail/rails";
import { isRing } from "./sections";

type Side = "start" | "end";

/** The fullness of an end as a handle: from the middle of its section a third of the way to the next one, for each one of fullness. */
interface EndHandle {
  side: Side;
  fullness: number;
  from: Triple;
  way: Triple;
  reach: number;
}

/** Of the way to the next section, as the handle of a cubic is. */
const THIRD = 1 / 3;
const FULLEST = 5;
/** Fullness is pulled by so many to one. */
const STEPS = 50;

/** Handles on the ends of the selected loft that are asked for something: pulled along the body they say how far that reaches into it. */
export function useEndPull(viewport: RefObject<Viewport | null>) {
  const { live, place } = useFloor();
  const { design } = useHead();
  const held = usePulled<{ side: Side; now: number }>();

  const handles = useCallback((): EndHandle[] => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const status = live.built.getState().steps[step?.id ?? ""];
    if (step?.kind !== "loft" || status?.summary?.result !== "body") return [];
    const { summary, values } = status;
    return (["start", "end"] as const).flatMap((side) => handleOf(step, side, summary, values ?? {}, middleOf));

    function middleOf(section: string): Triple | null {
      const told = sectionSummary(live.built.getState().steps[section]);
      const points = told ? outlineInSpace(told) : [];
      if (!points.length) return null;
      const sum = points.reduce<Triple>((a, b) => [a[0] + b[0], a[1] + b[1], a[2] + b[2]], [0, 0, 0]);
      return [sum[0] / points.length, sum[1] / points.length, sum[2] / points.length];
    }
  }, [design, live, place]);

  const grips = useCallback(
    (): Grip[] =>
      handles().map((handle) => ({
        id: `full ${handle.side}`,
        label: `Fullness of the ${handle.side}`,
        // what is pulled is where the hand has it
        at: along(handle, held.taken()?.side === handle.side ? (held.taken()?.now ?? 1) : handle.fullness),
        from: handle.from,
        kind: "handle",
      })),
    [handles, held],
  );

  const pull: Pull = (id, phase, pulled) => {
    const side: Side = id === "full start" ? "start" : "end";
    const handle = handles().find((one) => one.side === side);
    const step = place.getState().selected;
    if (phase === "end") {
      held.letGo();
      return;
    }
    const eye = viewport.current?.towardsEye();
    if (!handle || !pulled || !step || !eye) return;
    if (phase === "start") held.take({ side, now: handle.fullness });
    const taken = held.taken();
    if (taken?.side !== side) return;
    const far = farAlong(handle.from, handle.way, pulled.there, eye);
    if (far === null) return;
    const steps = Math.round(Math.max(0, Math.min(FULLEST, far / handle.reach)) * STEPS);
    taken.now = steps / STEPS;
    held.follow([{ do: "set-param", step, path: [side, "fullness"], value: taken.now }]);
  };

  return { grips, pull };
}

function handleOf(
  step: Step,
  side: Side,
  summary: BodySummary,
  values: Record<string, number>,
  middleOf: (section: string) => Triple | null,
): EndHandle[] {
  const end = (step.params[side] ?? {}) as { shape?: string; fullness?: number | string };
  const run = summary.run ?? [];
  if (!end.shape || end.shape === "free" || step.params["between"] === "straight" || isRing(step) || run.length < 2)
    return [];
  const [own, next] = side === "start" ? [run[0], run[1]] : [run.at(-1), run.at(-2)];
  const [from, to] = [middleOf(own?.section ?? ""), middleOf(next?.section ?? "")];
  if (!from || !to) return [];
  const away: Triple = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const size = Math.hypot(...away) || 1;
  const fullness = typeof end.fullness === "number" ? end.fullness : (values[`${side}.fullness`] ?? 1);
  return [{ side, fullness, from, way: [away[0] / size, away[1] / size, away[2] / size], reach: size * THIRD }];
}

const along = ({ from, way, reach }: EndHandle, fullness: number) => onwards(from, way, reach * fullness);
