import type { DesignDocument, LengthUnit, SectionSummary, Step, StepStatus } from "../api/types";
import { lengthNumber } from "./units";

/** A section as it stands on the Run and in lists. number: its place in its body, from 1. at: along the body, mm. */
export interface Stand {
  number: number;
  section: string;
  station: string;
  name: string;
  at: number;
  /** mm along the body for each mm of its station's offset. */
  rate: number;
  outline: readonly (readonly [number, number])[];
  closed: boolean;
  state: StepStatus["state"] | "unknown";
}

/** The part of a design that makes one body, in the order of the document. */
export interface BodyGroup {
  body: Step;
  stands: Stand[];
}

export interface DesignOutline {
  groups: BodyGroup[];
  /** Sections that no body uses. */
  loose: Stand[];
  /** Stations that nothing stands on. */
  bare: Step[];
  rails: Step[];
  pictures: Step[];
}

type Steps = Record<string, StepStatus>;

/** What the board needs to know of a section or a drawn rail. */
export type SheetSummary = Pick<SectionSummary, "origin" | "x" | "y" | "drawing">;

interface SectionItem {
  section: { step: string };
}

/** The ids of the sections that a body step goes through, in order. */
export function sectionIds(step: Step): string[] {
  const items = (step.params["sections"] ?? []) as SectionItem[];
  return items.map((item) => item.section.step);
}

/** The station step that a section step stands on. */
export function stationOf(step: Step): string {
  return ((step.params["station"] as { step?: string } | undefined) ?? {}).step ?? "";
}

/** Whether the board is the place to change a step. */
export function isDrawnOn(step: Step): boolean {
  const shape = step.params["shape"] as { type?: string } | undefined;
  return (step.kind === "section" && shape?.type !== "copied") || (step.kind === "rail" && shape?.type === "drawing");
}

/** The section that a linked copy follows, in the end. */
export function originalOf(steps: readonly Step[], id: string | null): Step | undefined {
  const step = steps.find((s) => s.id === id);
  const shape = step?.params["shape"] as { type?: string; section?: { step: string } } | undefined;
  return shape?.type === "copied" ? originalOf(steps, shape.section?.step ?? null) : step;
}

/** The plane that a step is drawn in, and its drawing. */
export function sheetOf(status: StepStatus | undefined): SheetSummary | null {
  const summary = status?.summary;
  if (summary?.result === "section") return summary;
  if (summary?.result !== "rail" || !summary.origin || !summary.x || !summary.y) return null;
  const { origin, x, y, drawing } = summary;
  return { origin, x, y, drawing };
}

export function sectionSummary(status: StepStatus | undefined): SectionSummary | null {
  return status?.summary?.result === "section" ? status.summary : null;
}

export function outlineOf(document: DesignDocument, steps: Steps): DesignOutline {
  const byId = new Map(document.steps.map((step) => [step.id, step]));
  const bodies = document.steps.filter((step) => step.kind === "loft");
  const used = new Set(bodies.flatMap(sectionIds));
  const groups = bodies.map((body) => ({
    body,
    stands: sectionIds(body).flatMap((id, index) => {
      const step = byId.get(id);
      return step ? [standOf(step, index + 1, steps, body)] : [];
    }),
  }));
  const loose = document.steps
    .filter((step) => step.kind === "section" && !used.has(step.id))
    .map((step, index) => standOf(step, index + 1, steps, null))
    .sort((a, b) => a.at - b.at);
  const stoodOn = new Set(
    document.steps.filter((step) => ["section", "rail", "picture"].includes(step.kind)).map(stationOf),
  );
  const bare = document.steps.filter((step) => step.kind === "station" && !stoodOn.has(step.id));
  const rails = document.steps.filter((step) => step.kind === "rail");
  const pictures = document.steps.filter((step) => step.kind === "picture");
  return { groups, loose, bare, rails, pictures };
}

/** A station by itself, as it can be dragged along its own normal. */
export function bareStand(step: Step, steps: Steps): Stand {
  return {
    number: 0,
    section: step.id,
    station: step.id,
    name: step.name,
    at: along(steps[step.id], null),
    rate: 1,
    outline: [],
    closed: false,
    state: steps[step.id]?.state ?? "unknown",
  };
}

function standOf(step: Step, number: number, steps: Steps, body: Step | null): Stand {
  const status = steps[step.id];
  const summary = sectionSummary(status);
  const station = stationOf(step);
  return {
    number,
    section: step.id,
    station,
    name: step.name,
    at: along(steps[station], axisOf(body, steps)),
    rate: rateOf(steps[station], axisOf(body, steps)),
    outline: summary?.outline ?? [],
    closed: summary?.closed ?? true,
    state: status?.state ?? "unknown",
  };
}

type Triple = readonly [number, number, number];

export const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const dot = (a: Triple, b: Triple): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

export function frameOf(status: StepStatus | undefined) {
  return status?.summary?.result === "station" ? status.summary : null;
}

function along(status: StepStatus | undefined, axis: Triple | null): number {
  const frame = frameOf(status);
  if (!frame) return 0;
  return dot(frame.origin, axis ?? cross(frame.x, frame.y));
}

/** How far a station goes along the axis for each mm of its offset. */
function rateOf(status: StepStatus | undefined, axis: Triple | null): number {
  const frame = frameOf(status);
  return frame && axis ? dot(cross(frame.x, frame.y), axis) : 1;
}

/** The direction of a body's Run; where it can't be built, from its first station towards its last. */
function axisOf(body: Step | null, steps: Steps): Triple | null {
  if (!body) return null;
  const summary = steps[body.id]?.summary;
  if (summary?.result === "body") return summary.axis;
  const frames = sectionIds(body).flatMap((id) => {
    const section = sectionSummary(steps[id]);
    return section ? [section] : [];
  });
  const [first, last] = [frames[0], frames.at(-1)];
  if (!first || !last) return null;
  const normal = cross(first.x, first.y);
  const rise = dot(last.origin, normal) - dot(first.origin, normal);
  return rise < 0 ? [-normal[0], -normal[1], -normal[2]] : normal;
}

/** What a shape is called in a list: `Base, rounded square 62`. */
export function shapeWords(step: Step, status: StepStatus | undefined, unit: LengthUnit): string {
  const raw = step.params["shape"] as Record<string, unknown> | undefined;
  const worth = (name: string) => status?.values?.[`shape.${name}`];
  const shape = raw && Object.fromEntries(Object.entries(raw).map(([name, value]) => [name, worth(name) ?? value]));
  const say = (value: unknown) => (typeof value === "number" ? lengthNumber(value, unit) : String(value));
  switch (shape?.["type"]) {
    case "circle":
      return `round ${say(shape["diameter"])}`;
    case "ellipse":
      return `ellipse ${say(shape["width"])} × ${say(shape["depth"])}`;
    case "rectangle":
      return `rectangle ${say(shape["width"])} × ${say(shape["depth"])}`;
    case "rounded-rectangle":
      return shape["width"] === shape["depth"]
        ? `rounded square ${say(shape["width"])}`
        : `rounded ${say(shape["width"])} × ${say(shape["depth"])}`;
    case "slot":
      return `slot ${say(shape["length"])} × ${say(shape["width"])}`;
    case "polygon":
      return `${String(shape["sides"])} sides, ${say(shape["across"])}`;
    case "foil":
      return `foil ${say(shape["chord"])}`;
    case "traced":
      return "as cut from the body";
    case "spline":
      return `spline, ${(shape["points"] as unknown[]).length} points`;
    case "copied":
      return "linked copy";
    case "drawing":
      return `drawn, ${(shape["curves"] as unknown[] | undefined)?.length ?? 0} curves`;
    case "point":
      return "point";
    default:
      return "";
  }
}
