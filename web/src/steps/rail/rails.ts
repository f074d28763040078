import type { DesignDocument, Edit, RailSummary, SectionSummary, Step, StepStatus } from "../../api/types";
import { gives } from "../registry";
import { outlineInSpace } from "../../model/lines";
import { sectionSummary, type Stand } from "../../model/outline";

export type Triple = readonly [number, number, number];

/** A point of a rail through points, as it stands in the document. */
export interface RailPoint {
  on?: { section: { step: string }; at: number | string } | null;
  at?: (number | string)[] | null;
  handle?: (number | string)[] | null;
  sharp?: boolean;
}

export function railSummary(status: StepStatus | undefined): RailSummary | null {
  return status?.summary?.result === "rail" ? status.summary : null;
}

/** The way a rail is made: its type and its numbers. */
export const railShape = (step: Step): Record<string, unknown> & { type: string } =>
  step.params["shape"] as Record<string, unknown> & { type: string };

/** The points of a rail through points; none for any other. */
export function railPoints(step: Step | null): RailPoint[] {
  if (!step || !gives(step, "rail")) return [];
  const shape = railShape(step);
  return shape.type === "spline" ? (shape["points"] as RailPoint[]) : [];
}

export const setPoints = (step: string, points: RailPoint[]): Edit[] => [
  { do: "set-param", step, path: ["shape", "points"], value: points },
];

export const withPoint = (points: RailPoint[], number: number, changes: Partial<RailPoint>): RailPoint[] =>
  points.map((point, i) => (i === number ? { ...point, ...changes } : point));

/** How far round an outline the place between two of its points is. */
export function shareBetween({ shares, outline, closed }: SectionSummary, index: number, part: number): number {
  const from = shares[index] ?? 0;
  const to = index + 1 < outline.length ? (shares[index + 1] ?? 1) : closed ? 1 : from;
  const at = from + (to - from) * part;
  return Math.round((closed ? at % 1 : at) * 1e6) / 1e6;
}

/** A rail along the same side of every section: where each reaches furthest along the x of the first. */
export function railThrough(stands: Stand[], statuses: Record<string, StepStatus>): RailPoint[] {
  const side = sectionSummary(statuses[stands[0]?.section ?? ""])?.x;
  return stands.flatMap(({ section }) => {
    const summary = sectionSummary(statuses[section]);
    if (!summary || !side) return [];
    const reach = outlineInSpace(summary).map((p) => p[0] * side[0] + p[1] * side[1] + p[2] * side[2]);
    const furthest = reach.indexOf(Math.max(...reach));
    return [{ on: { section: { step: section }, at: summary.shares[furthest] ?? 0 } }];
  });
}

/** A new rail. */
export const addRail = (name: string, params: Record<string, unknown>): Extract<Edit, { do: "add-step" }> => ({
  do: "add-step",
  kind: "rail",
  name,
  params,
});

/** Rails that are drawn on a station. */
export const drawnRails = ({ steps }: DesignDocument): Step[] =>
  steps.filter((step) => gives(step, "rail") && railShape(step).type === "drawing");

/** What a rail is called in a list. */
export function railWords(step: Step): string {
  const shape = railShape(step);
  switch (shape.type) {
    case "spline":
      return `through ${railPoints(step).length} points`;
    case "helix":
      return "helix";
    case "views":
      return "from two views";
    case "laid":
      return "laid on a body";
    case "edges":
      return shape["copies"]
        ? `${shape["loop"] ? "round" : "along"} every copy`
        : shape["loop"]
          ? "round an end"
          : "along an edge";
    case "image":
      return "mirror image of another";
    default:
      return "drawn";
  }
}

/** Whether a rail leads what a step makes. */
export const leads = (rail: Step, step: Step): boolean =>
  ((step.params["rails"] ?? []) as { step: string }[]).some((ref) => ref.step === rail.id);
