import { useCallback, useRef, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { farAlong, onwards } from "../../scene/alongWay";
import type { Grip, Pull } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";

type Triple = readonly [number, number, number];
type Side = "first" | "second";
type Begins = NonNullable<NonNullable<BodySummary["bridged"]>[number]["begins"]>;

/** What was taken hold of: the run as it lay then, and where on it; or a fullness. */
interface Taken {
  id: string;
  places: Triple[];
  from: number;
  had: number;
  now: number;
}

const SIDES: readonly Side[] = ["first", "second"];
/** Length of the sign for the direction against the size of the bridge. */
const WAY = 0.12;
const FULLEST = 10;
/** Fullness is pulled by so many to one. */
const STEPS = 50;

/** Marks on the selected bridge: where its second run begins and which way it goes, and how full it is at both ends. */
export function useBridgePull(viewport: RefObject<Viewport | null>) {
  const { live, place, change } = useFloor();
  const { design } = useHead();
  const held = usePulled<Taken>();
  /** Letting go of what was pulled is a click as well. */
  const wasPulled = useRef(false);

  const bridge = useCallback((): { step: Step; summary: BodySummary; values: Record<string, number> } | null => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const status = live.built.getState().steps[step?.id ?? ""];
    if (step?.kind !== "bridge" || status?.summary?.result !== "body") return null;
    return { step, summary: status.summary, values: status.values ?? {} };
  }, [design, live, place]);

  const grips = useCallback((): Grip[] => {
    const found = bridge();
    if (!found) return [];
    const reach = WAY * Math.hypot(...found.summary.high.map((v, i) => v - (found.summary.low[i] ?? 0)));
    return SIDES.flatMap((side): Grip[] => {
      const begins = beginsAt(found.summary, side);
      const [mark, next] = [begins?.places[0], begins?.places[1]];
      if (!begins || !mark || !next) return [];
      const made: Grip[] = [];
      if (side === "second") {
        const towards = onwards(mark, unit(mark, next), reach);
        made.push({ id: "bridge start", label: "Where the bridge ends its run", at: mark, towards, kind: "start" });
      }
      if (fullnessOf(found, side) !== null) {
        const taken = held.taken();
        const full = taken?.id === `bridge full ${side}` ? taken.now : (fullnessOf(found, side) ?? 1);
        const label = `Fullness ${side === "first" ? "where it begins" : "where it ends"}`;
        const at = onwards(mark, begins.leaves, begins.reach * full);
        made.push({ id: `bridge full ${side}`, label, at, from: mark, kind: "handle" });
      }
      return made;
    });
  }, [bridge, held]);

  const pull: Pull = (id, phase, pulled) => {
    if (phase === "end") {
      held.letGo();
      return;
    }
    const found = bridge();
    if (!found) return;
    if (phase === "start") wasPulled.current = true;
    if (phase === "pick") {
      if (wasPulled.current) {
        wasPulled.current = false;
        return;
      }
      // a click turns the direction round
      if (id === "bridge start")
        void change([
          { do: "set-param", step: found.step.id, path: ["against"], value: found.step.params["against"] !== true },
        ]);
      return;
    }
    if (!pulled) return;
    if (id === "bridge start") round(found.step, pulled.x, pulled.y);
    else further(found, id === "bridge full first" ? "first" : "second", pulled.there);

    function round(step: Step, x: number, y: number): void {
      const begins = found && beginsAt(found.summary, "second");
      const places = (held.taken()?.places ?? begins?.places) as Triple[] | undefined;
      const spot = places && viewport.current?.nearest(places, x, y);
      if (!places || !spot || !begins) return;
      const share = (spot.index + spot.part) / (places.length - 1);
      if (!begins.closed) {
        // an open run begins at one of its ends: pulled past its middle it begins at the other
        const against = Number(step.params["against"] === true);
        if (phase === "start") held.take({ id, places, from: 0, had: against, now: against });
        const taken = held.taken();
        if (taken?.id !== id) return;
        const value = (taken.had === 1) !== share > 0.5;
        held.follow([{ do: "set-param", step: step.id, path: ["against"], value }]);
        return;
      }
      const had = found?.values["start"] ?? Number(step.params["start"] ?? 0);
      if (phase === "start") held.take({ id, places, from: share, had, now: had });
      const taken = held.taken();
      if (taken?.id !== id) return;
      const now = (Math.round((taken.had + share - taken.from + 2) * 1e4) / 1e4) % 1;
      held.follow([{ do: "set-param", step: step.id, path: ["start"], value: now }]);
    }

    function further(whole: NonNullable<typeof found>, side: Side, there: Triple): void {
      const begins = beginsAt(whole.summary, side);
      const eye = viewport.current?.towardsEye();
      const full = fullnessOf(whole, side);
      const mark = begins?.places[0];
      if (!begins || !eye || full === null || !mark) return;
      if (phase === "start") held.take({ id, places: [], from: 0, had: full, now: full });
      const taken = held.taken();
      if (taken?.id !== id) return;
      const far = farAlong(mark, begins.leaves, there, eye);
      if (far === null || begins.reach === 0) return;
      taken.now = Math.round(Math.max(0, Math.min(FULLEST, far / begins.reach)) * STEPS) / STEPS;
      held.follow([{ do: "set-param", step: whole.step.id, path: [side, "fullness"], value: taken.now }]);
    }
  };

  return { grips, pull };
}

function beginsAt(summary: BodySummary, side: Side): Begins | null {
  return summary.bridged?.find(({ end }) => end === side)?.begins ?? null;
}

/** Null where nothing holds the bridge there. */
function fullnessOf({ step, values }: { step: Step; values: Record<string, number> }, side: Side): number | null {
  const end = (step.params[side] ?? {}) as { meets?: string; fullness?: number | string };
  if (end.meets === "position") return null;
  return typeof end.fullness === "number" ? end.fullness : (values[`${side}.fullness`] ?? 1);
}

function unit(from: Triple, to: Triple): Triple {
  const off: Triple = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const size = Math.hypot(...off) || 1;
  return [off[0] / size, off[1] / size, off[2] / size];
}
