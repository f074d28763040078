import { useCallback, useEffect, useRef } from "react";
import type { Edit, Step } from "../api/types";
import { useDocument, useFloor, usePlace } from "../floor/context";
import type { Picking } from "../model/place";
import { answered, couldBe, directed, type Pointed } from "./answer";

/** Gives what was pointed at to the parameter that waits for it. */
export function useAnswer(): (pointed: Pointed) => boolean {
  const { change, place, live } = useFloor();
  return useCallback(
    (pointed: Pointed) => {
      const waits = place.getState().picking;
      if (!waits) return false;
      void change((now) => {
        const picking = directed(waits, pointed, now);
        const edits = answered(picking, pointed, now, live.built.getState().steps);
        if (edits.length) place.setState({ picking: picking.many && !enough(picking, edits) ? picking : null });
        return edits;
      });
      return true;
    },
    [change, place, live],
  );
}

/** Whether as many are picked as can be. */
function enough({ most }: Picking, edits: readonly Edit[]): boolean {
  const last = edits.at(-1);
  return most !== undefined && last?.do === "set-param" && Array.isArray(last.value) && last.value.length >= most;
}

/** What was to be picked for a step is dropped once the step is gone: undone, or removed. One that has just been made may not be here yet. */
export function usePickingEnds(): void {
  const { place } = useFloor();
  const { steps } = useDocument();
  const picking = usePlace((p) => p.picking);
  const asking = picking?.step ?? null;
  const there = steps.some(({ id }) => id === asking);
  const seen = useRef<string | null>(null);
  useEffect(() => {
    if (there) seen.current = asking;
    else if (asking !== null && seen.current === asking) place.setState({ picking: null });
  }, [place, asking, there]);
}

/** What a click on a row of the Build does while something is to be picked; null where the step is no answer. */
export function usePicking(step: Step): (() => void) | null {
  const document = useDocument();
  const picking = usePlace((p) => p.picking);
  const answer = useAnswer();
  return couldBe(picking, step, document) ? () => void answer({ step: step.id }) : null;
}
