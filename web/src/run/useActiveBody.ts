import { useBuilt, useOutline, usePlace } from "../floor/context";
import { makerOf, type BodyGroup, type Stand } from "../model/outline";
import type { BodySummary, Step } from "../api/types";

/** What lies on the Run: a step that made a body, its sections, and the body that it went into. */
export interface ActiveBody {
  body: Step;
  stands: Stand[];
  group: BodyGroup;
}

/**
 * The step that is being worked on: the one that is selected or goes through what is selected, or else the first that has sections. A step that
 * only works on what others shaped leaves their sections within reach.
 */
export function useActiveBody(): ActiveBody | undefined {
  const outline = useOutline();
  const selected = usePlace((p) => p.selected);
  const found = makerOf(outline, selected);
  const group = found?.group ?? outline.groups[0];
  const row = group?.makers.find((m) => m.stands.length > 1);
  const shaped = found?.maker.stands.length || !row ? found?.maker : row;
  const maker = shaped ?? row ?? group?.makers.at(-1);
  return group && maker ? { body: maker.step, stands: maker.stands, group } : undefined;
}

/** What is read of the body as it was before the step that is worked on: for as long as that one failed, or is not there yet. */
export function useReadBefore(active: ActiveBody | undefined): BodySummary | null {
  return useBuilt(({ steps }) => {
    const makers = active?.group.makers ?? [];
    const own = makers.findIndex(({ step }) => step.id === active?.body.id);
    for (const { step } of makers.slice(0, Math.max(own, 0)).toReversed()) {
      const summary = steps[step.id]?.summary;
      if (summary?.result === "body" && summary.lanes.at.length) return summary;
    }
    return null;
  });
}
