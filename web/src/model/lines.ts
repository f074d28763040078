import type { SectionSummary, Step, StepStatus } from "../api/types";
import { sectionSummary } from "./outline";

export type Line = readonly (readonly [number, number, number])[];

/** A step as lines in space, mm: a rail, the outline of a section, or those of all sections of a body. */
export function linesOf(step: Step, statuses: Readonly<Record<string, StepStatus>>): Line[] {
  const summary = statuses[step.id]?.summary;
  if (summary?.result === "rail") return [summary.points];
  if (summary?.result === "body") return (summary.run ?? []).flatMap(({ section }) => outline(statuses[section]));
  return outline(statuses[step.id]);
}

/** A place on the plane of a section in space, mm. */
export const inSpace = ({ origin, x, y }: SectionSummary, [a, b]: readonly [number, number]): Line[number] => [
  origin[0] + a * x[0] + b * y[0],
  origin[1] + a * x[1] + b * y[1],
  origin[2] + a * x[2] + b * y[2],
];

/** The outline of a section in space, mm. */
export const outlineInSpace = (section: SectionSummary): Line[number][] =>
  section.outline.map((place) => inSpace(section, place));

/** Run back to where it begins, where it closes; nothing of a point. */
function outline(status: StepStatus | undefined): Line[] {
  const summary = sectionSummary(status);
  const ring = summary ? outlineInSpace(summary) : [];
  if (!summary || ring.length < 2) return [];
  return [summary.closed && ring[0] ? [...ring, ring[0]] : ring];
}
