import type { Edit, Step } from "../api/types";

/** Ids of the steps that are named anywhere in what a step is made of. */
function named(value: unknown, found = new Set<string>()): Set<string> {
  if (Array.isArray(value)) for (const item of value) named(item, found);
  else if (value !== null && typeof value === "object") {
    const { step } = value as { step?: unknown };
    if (typeof step === "string") found.add(step);
    for (const item of Object.values(value)) named(item, found);
  }
  return found;
}

/**
 * The moves after which a step may use another: none where that stands before it already; null where it can't, because the other needs it. What the
 * other is made of comes along.
 */
export function broughtBefore(asking: string, target: string, steps: readonly Step[]): Edit[] | null {
  const place = new Map(steps.map((step, i) => [step.id, i]));
  const limit = place.get(asking) ?? -1;
  const moved = new Set<string>();
  const bring = (id: string): boolean => {
    const at = place.get(id);
    if (at === undefined || at < limit || moved.has(id)) return true;
    if (at === limit) return false;
    moved.add(id);
    return [...named(steps[at]?.params)].every(bring);
  };
  if (!bring(target)) return null;
  return steps.filter((step) => moved.has(step.id)).map((step) => ({ do: "move-step", step: step.id, before: asking }));
}

/** Whether any of some steps is named anywhere in what a step is made of. */
export const refersTo = (value: unknown, ids: ReadonlySet<string>): boolean =>
  Array.isArray(value)
    ? value.some((item) => refersTo(item, ids))
    : typeof value === "object" &&
      value !== null &&
      (ids.has(String((value as { step?: unknown }).step)) || Object.values(value).some((v) => refersTo(v, ids)));
