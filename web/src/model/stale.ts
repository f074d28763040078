import type { Step, StepStatus } from "../api/types";
import { gives } from "../steps/registry";

/** Whether a body is shown as it was before it failed. What would have changed another body shows that one instead. */
export function isStale(step: Step, status: StepStatus | undefined): boolean {
  if (!gives(step, "body") || step.skip || !status || status.mesh || !status.last_good) return false;
  const failed = status.state === "failed" || status.state === "waiting";
  return failed && !changesAnother(step);
}

/** Whether a step names a body that it would change. */
function changesAnother({ params }: Step): boolean {
  const result = params["result"] as { body?: unknown } | undefined;
  return "body" in params || result?.body !== undefined;
}
