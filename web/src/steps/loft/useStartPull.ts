import { useCallback, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { sectionSummary } from "../../model/outline";
import type { Grip, Pull } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";
import { outlineInSpace, shareBetween, type Triple } from "../rail/rails";

const ID = /^start (\d+)$/;
/** Length of the sign for the direction against the size of the body. */
const WAY = 0.07;

interface Taken {
  number: number;
  /** Share of the outline at which the pointer began, and the start that it had. */
  from: number;
  start: number;
}

/** Where the skin of the selected loft begins on each of its sections, and which way it goes round: pulled along the outline. */
export function useStartPull(viewport: RefObject<Viewport | null>) {
  const { live, place } = useFloor();
  const { design } = useHead();
  const held = usePulled<Taken>();

  const loft = useCallback((): { step: Step; summary: BodySummary } | null => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const summary = live.built.getState().steps[step?.id ?? ""]?.summary;
    return step?.kind === "loft" && summary?.result === "body" ? { step, summary } : null;
  }, [design, live, place]);

  const grips = useCallback((): Grip[] => {
    const found = loft();
    if (!found) return [];
    const { low, high, run = [] } = found.summary;
    const reach = WAY * Math.hypot(...high.map((v, i) => v - (low[i] ?? 0)));
    return run.flatMap(({ section, mark, way }, i): Grip[] => {
      if (!mark || !way) return [];
      const name = design.document.steps.find((s) => s.id === section)?.name ?? "";
      const towards = mark.map((v, k) => v + reach * (way[k] ?? 0)) as unknown as Triple;
      return [{ id: `start ${i}`, label: `Start of ${name}`, at: mark, towards, kind: "start" }];
    });
  }, [design, loft]);

  const pull: Pull = (id, phase, pulled) => {
    const number = Number(ID.exec(id)?.[1]);
    const found = loft();
    const stand = found?.summary.run?.[number];
    if (!found || !stand) return;
    if (phase === "end") {
      held.letGo();
      return;
    }
    const summary = sectionSummary(live.built.getState().steps[stand.section]);
    if (!summary || !pulled) return;
    const ring = outlineInSpace(summary);
    const spot = viewport.current?.nearest([...ring, ring[0] as Triple], pulled.x, pulled.y);
    if (!spot) return;
    const share = shareBetween(summary, spot.index, spot.part);
    if (phase === "start") held.take({ number, from: share, start: stand.start ?? 0 });
    const taken = held.taken();
    if (taken?.number !== number) return;
    // laws may have turned the outline since: it goes on by as much as the pointer does
    const start = Math.round((taken.start + share - taken.from + 2) * 1e4) / 1e4;
    held.follow([{ do: "set-param", step: found.step.id, path: ["sections", number, "start"], value: start % 1 }]);
  };

  return { grips, pull };
}
