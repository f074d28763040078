import type { Step } from "../api/types";

/** The drawn splines of a step that go through so many points that there is something to smooth. */
export function longSplines(step: Step): string[] {
  const shape = step.params["shape"] as { type?: string; curves?: { id: string; type: string; through?: string[] }[] };
  if (shape.type !== "drawing") return [];
  return (shape.curves ?? [])
    .filter(({ type, through }) => type === "spline" && (through?.length ?? 0) > 3)
    .map(({ id }) => id);
}
