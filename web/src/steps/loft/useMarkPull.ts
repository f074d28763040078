import { outlineInSpace } from "../../model/lines";
import { useCallback, type RefObject } from "react";
import type { BodySummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { sectionSummary } from "../../model/outline";
import type { Grip, Pull } from "../../scene/grips";
import type { StagedRail } from "../../scene/stage";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";
import { shareBetween, type Triple } from "../rail/rails";
import { tiedAt } from "./ties";

/** A start by the number of its section; a mark of a connecting line by the number of the section, then of the line. */
const ID = /^(?:start|tie) (\d+)(?: (\d+))?$/;
/** Length of the sign for the direction against the size of the body. */
const WAY = 0.07;

interface Taken {
  number: number;
  /** Share of the outline at which the pointer began, and the one that the mark had. */
  from: number;
  had: number;
}

/** Marks on the sections of the selected loft: where its skin begins, and which way it goes round, and where connecting lines pass. */
export function useMarkPull(viewport: RefObject<Viewport | null>) {
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
    const { low, high, run = [], ties = [] } = found.summary;
    const reach = WAY * Math.hypot(...high.map((v, i) => v - (low[i] ?? 0)));
    const named = (section: string) => design.document.steps.find((s) => s.id === section)?.name ?? "";
    // one mark alone where both would be
    const tied = new Set(ties.flatMap(({ at }) => at.map((share, i) => (share === run[i]?.start ? i : -1))));
    const starts = run.flatMap(({ section, mark, way }, i): Grip[] => {
      if (!mark || !way || tied.has(i)) return [];
      const towards = mark.map((v, k) => v + reach * (way[k] ?? 0)) as unknown as Triple;
      return [{ id: `start ${i}`, label: `Start of ${named(section)}`, at: mark, towards, kind: "start" }];
    });
    const marks = ties.flatMap(({ places }, n) =>
      run.flatMap(({ section }, i): Grip[] => {
        const at = places[i];
        return at
          ? [{ id: `tie ${i} ${n}`, label: `Connecting line ${n + 1} at ${named(section)}`, at, kind: "tie" }]
          : [];
      }),
    );
    return [...starts, ...marks];
  }, [design, loft]);

  /** The connecting lines as they run on the skin. */
  const lines = useCallback(
    (): StagedRail[] =>
      (loft()?.summary.ties ?? []).map(({ line }, n) => ({
        id: `tie ${n}`,
        line: new Float32Array(line.flat()),
        mute: true,
      })),
    [loft],
  );

  const pull: Pull = (id, phase, pulled) => {
    const [, first, second] = ID.exec(id) ?? [];
    const number = Number(first);
    const tie = second === undefined ? null : Number(second);
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
    const had = (tie === null ? stand.start : found.summary.ties?.[tie]?.at[number]) ?? 0;
    if (phase === "start") held.take({ number, from: share, had });
    const taken = held.taken();
    if (taken?.number !== number) return;
    // laws may have turned the outline since: it goes on by as much as the pointer does
    const at = (Math.round((taken.had + share - taken.from + 2) * 1e4) / 1e4) % 1;
    held.follow(
      tie === null
        ? [{ do: "set-param", step: found.step.id, path: ["sections", number, "start"], value: at }]
        : tiedAt(found.step, tie, stand.section, at),
    );
  };

  return { grips, lines, pull };
}
