import type { DesignDocument, Step } from "../api/types";
import { dependents, removal } from "../steps/removal";
import type { FloorContext } from "./context";

/** Remove a step; where others build on it, what becomes of them is asked first. changes: the bodies that it replaces. */
export function removeStep(
  { place, change, live }: FloorContext,
  document: DesignDocument,
  step: Step,
  changes: readonly string[],
): void {
  if (dependents(document, step, changes).length) return place.setState({ selected: step.id, asking: step.id });
  place.setState({ selected: null, asking: null });
  void change((now) => removal(now, step, false, changes, live.built.getState().steps));
}
