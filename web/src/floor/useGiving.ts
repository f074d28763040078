import type { DragEvent } from "react";
import type { Step } from "../api/types";
import { kindOf } from "../steps/registry";
import { useDocument, useFloor, usePlace } from "./context";

/** Marks what is dragged: other drags over the page are none of ours. */
const CARRIED = "application/x-wander-step";

/** What makes a step's row one that can be dragged to a step that has use for it. */
export function useCarried(step: Step) {
  const { place } = useFloor();
  const { steps } = useDocument();
  const welcome = steps.some((other) => kindOf(other).given?.(other, step, steps));
  if (!welcome) return {};
  return {
    draggable: true,
    onDragStart: (event: DragEvent) => {
      event.dataTransfer.setData(CARRIED, step.id);
      event.dataTransfer.effectAllowed = "link";
      place.setState({ carried: step.id });
    },
    onDragEnd: () => place.setState({ carried: null }),
  };
}

/** What lets a place take the step that is dragged there. at: the steps that are there, of which the first that has use for it gets it. */
export function useTaking(at: (event: DragEvent) => readonly string[]) {
  const { place, change } = useFloor();
  const { steps } = useDocument();
  const carried = usePlace((p) => p.carried);
  const other = steps.find(({ id }) => id === carried);
  const found = (event: DragEvent) => {
    if (!other) return null;
    for (const id of at(event)) {
      const step = steps.find((s) => s.id === id);
      const edits = step && kindOf(step).given?.(step, other, steps);
      if (edits) return { id, edits };
    }
    return null;
  };
  return {
    onDragOver: (event: DragEvent) => {
      const taker = found(event);
      if (other) place.setState({ hovered: taker?.id ?? null });
      if (!taker) return;
      event.preventDefault();
      event.dataTransfer.dropEffect = "link";
    },
    onDragLeave: () => other && place.setState({ hovered: null }),
    onDrop: (event: DragEvent) => {
      const taker = found(event);
      if (!taker) return;
      event.preventDefault();
      place.setState({ carried: null, hovered: null, selected: taker.id });
      void change(taker.edits);
    },
  };
}
