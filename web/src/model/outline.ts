import type { DesignDocument, LengthUnit, SectionSummary, Step, StepStatus } from "../api/types";
import { gives, kindOf } from "../steps/registry";
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
  beside: readonly (readonly (readonly [number, number])[])[];
  closed: boolean;
  state: StepStatus["state"] | "unknown";
}

/** One step that made or changed a body, with the sections it goes through. */
export interface Maker {
  step: Step;
  stands: Stand[];
}

/** A body that stands, and all that made it, in the order of the document. */
export interface BodyGroup {
  body: Step;
  makers: Maker[];
  /** The sections of all its makers. */
  stands: Stand[];
  /** Where a further section goes in: the last of its makers that goes through a row of them. */
  row: { id: string; path: string; items: unknown[] } | null;
}

export interface DesignOutline {
  groups: BodyGroup[];
  /** The steps whose bodies are there now. */
  standing: Step[];
  /** Sections that no body uses. */
  loose: Stand[];
  /** Stations that nothing stands on. */
  bare: Step[];
  rails: Step[];
  pictures: Step[];
  measures: Step[];
  /** Bodies that are only to be looked at. */
  references: Step[];
}

type Steps = Record<string, StepStatus>;

/** What the board needs to know of a section or a drawn rail. */
export type SheetSummary = Pick<SectionSummary, "origin" | "x" | "y" | "drawing">;

/** The steps that raw parameters name, in their order. */
export function namedIn(value: unknown): string[] {
  if (Array.isArray(value)) return value.flatMap(namedIn);
  if (typeof value !== "object" || value === null) return [];
  const { step } = value as { step?: unknown };
  return [...(typeof step === "string" ? [step] : []), ...Object.values(value).flatMap(namedIn)];
}

/** The station step that a section step stands on. */
export function stationOf(step: Step): string {
  return ((step.params["station"] as { step?: string } | undefined) ?? {}).step ?? "";
}

/** Whether the board is the place to change a step. */
export const isDrawnOn = (step: Step): boolean => kindOf(step).drawn?.(step) ?? false;

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

/** standing: the steps whose bodies are there, as the server tells; null while it has told nothing. */
export function outlineOf(document: DesignDocument, steps: Steps, standing: readonly string[] | null): DesignOutline {
  const byId = new Map(document.steps.map((step) => [step.id, step]));
  const bodies = document.steps.filter((step) => gives(step, "body"));
  const there = standing ? bodies.filter((step) => standing.includes(step.id)) : bodies;
  const changes = (id: string) => steps[id]?.changes ?? [];
  const history = (id: string, seen: Set<string>): void => {
    for (const before of changes(id)) if (!seen.has(before)) history(before, seen);
    seen.add(id);
  };
  const grouped = new Set<string>();
  const maker = (step: Step): Maker => ({ step, stands: standsOf(step, byId, steps) });
  const makersOf = (body: Step): { body: Step; makers: Maker[] } => {
    const seen = new Set<string>();
    history(body.id, seen);
    // what a skipped step hands through belongs to whoever takes it on
    const makers = bodies.filter((step) => seen.has(step.id) && !grouped.has(step.id)).map(maker);
    for (const { step } of makers) grouped.add(step.id);
    return { body, makers };
  };
  const made = there.map(makersOf);
  // what could not be built yet, or was skipped, is listed with the body that it works on; where it makes one of its own, by itself
  for (const step of bodies.filter((each) => !grouped.has(each.id))) {
    const [worksOn] = changes(step.id);
    const whose = made.find(({ makers }) => makers.some((known) => known.step.id === worksOn));
    if (whose) whose.makers.push(maker(step));
    else made.push(makersOf(step));
    grouped.add(step.id);
  }
  const groups = made.map(({ body, makers }): BodyGroup => {
    const rows = makers.flatMap(({ step }) => {
      const row = kindOf(step).row?.(step);
      return row ? [{ id: step.id, ...row }] : [];
    });
    return { body, makers, stands: makers.flatMap(({ stands }) => stands), row: rows.at(-1) ?? null };
  });
  groups.sort((a, b) => place(document, a) - place(document, b));
  const used = new Set(bodies.flatMap((step) => namedIn(step.params)));
  const loose = document.steps
    .filter((step) => gives(step, "section") && !used.has(step.id))
    .map((step, index) => standOf(step, index + 1, steps, null))
    .sort((a, b) => a.at - b.at);
  const stoodOn = new Set(document.steps.filter((step) => !gives(step, "body")).map(stationOf));
  const named = new Set(document.steps.flatMap((step) => namedIn(step.params)));
  const bare = document.steps.filter((step) => gives(step, "station") && !stoodOn.has(step.id) && !named.has(step.id));
  const rails = document.steps.filter((step) => gives(step, "rail"));
  const pictures = document.steps.filter((step) => gives(step, "picture"));
  const measures = document.steps.filter((step) => gives(step, "measure"));
  const references = document.steps.filter((step) => gives(step, "reference"));
  return { groups, standing: there, loose, bare, rails, pictures, measures, references };
}

const place = ({ steps }: DesignDocument, group: BodyGroup) =>
  steps.findIndex((step) => step.id === group.makers[0]?.step.id);

/** The sections that a body step goes through, in order. */
function standsOf(body: Step, byId: Map<string, Step>, steps: Steps): Stand[] {
  // other parameters may name them again
  const row = kindOf(body).row?.(body);
  const sections = namedIn(row ? row.items : body.params).flatMap((id) => {
    const step = byId.get(id);
    return step && gives(step, "section") ? [step] : [];
  });
  return sections.map((step, index) => standOf(step, index + 1, steps, body));
}

/** The step that a section belongs to, and the group that this belongs to. */
export function makerOf(
  outline: DesignOutline,
  selected: string | null,
): { group: BodyGroup; maker: Maker } | undefined {
  for (const group of outline.groups)
    for (const maker of group.makers)
      if (maker.step.id === selected || maker.stands.some((s) => s.section === selected || s.station === selected))
        return { group, maker };
  return undefined;
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
    beside: [],
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
    ...(onLine(step, body, steps) ?? {
      at: along(steps[station], axisOf(body, steps)),
      rate: rateOf(steps[station], axisOf(body, steps)),
    }),
    outline: summary?.outline ?? [],
    beside: summary?.beside ?? [],
    closed: summary?.closed ?? true,
    state: status?.state ?? "unknown",
  };
}

/** Where a section stands on the Run of a body that is counted along a line. */
function onLine(section: Step, body: Step | null, steps: Steps): { at: number; rate: number } | null {
  const summary = body && steps[body.id]?.summary;
  if (summary?.result !== "body" || !summary.line?.length) return null;
  const told = summary.run?.find((item) => item.section === section.id);
  return told ? { at: told.at, rate: told.rate } : null;
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
  if (summary?.result === "body" && summary.run?.length) return summary.axis;
  const frames = namedIn(body.params).flatMap((id) => {
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
      return (shape["rails"] as unknown[] | undefined)?.length ? "copy fitted between rails" : "linked copy";
    case "drawing":
      return drawnWords((shape["curves"] as unknown[] | undefined)?.length ?? 0);
    case "face":
      return "round a face";
    case "edges":
      return "along edges";
    case "point":
      return "point";
    default:
      return "";
  }
}

const drawnWords = (curves: number): string => `drawn, ${curves} curve${curves === 1 ? "" : "s"}`;
