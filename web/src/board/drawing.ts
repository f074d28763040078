import type { AsDrawn, DrawnLines, HoldKind, LengthUnit, SectionSummary, Step, StepStatus } from "../api/types";
import { sheetOf } from "../model/outline";
import { groundTitle, isAxis } from "./ground";
import { lengthNumber, trimmed } from "../model/units";
import type { components } from "../api/schema";

export type XY = readonly [number, number];
export type Act = components["schemas"]["Draw"]["acts"][number];
export type DrawingSummary = NonNullable<SectionSummary["drawing"]>;

/** A curve as it is written in the document. */
export interface Curve {
  id: string;
  type: "line" | "arc" | "circle" | "ellipse" | "foil" | "spline" | "poles" | "trace" | "beside";
  construction?: boolean;
  start?: string;
  end?: string;
  center?: string;
  radius?: number;
  width?: number;
  depth?: number;
  turn?: number;
  /** Of a foil, as shares of its chord. */
  thickness?: number;
  camber?: number;
  through?: string[];
  /** What a trace or an offset follows. */
  of?: unknown;
  /** Control points by id; of a trace, places. */
  poles?: string[] | XY[];
  closed?: boolean;
  sharp?: number[];
  straight?: number[];
  handles?: { at: number; angle: number; pull?: number; bend?: number | null }[];
}

export interface Hold {
  id: string;
  type: string;
  of: string[];
  value?: number | string;
  reading?: boolean;
  /** What passes through a point. */
  rail?: { step: string };
  /** Where that was when it was written down. */
  at?: XY;
  /** How far its number was moved from where it stands by itself, mm. */
  aside?: XY | null;
}

/** A drawing as the board shows it: what is written, and where everything is now. */
export interface Drawn {
  curves: Curve[];
  holds: Hold[];
  points: Record<string, XY>;
  /** The areas that were chosen for the outline; null: the only one. */
  use: string[] | null;
  now: DrawingSummary | null;
}

interface Written {
  type?: string;
  points?: Record<string, XY>;
  curves?: Curve[];
  holds?: Hold[];
  use?: string[] | null;
}

const CURVES: Record<Curve["type"], string> = {
  line: "line",
  arc: "arc",
  circle: "circle",
  ellipse: "ellipse",
  foil: "foil",
  spline: "spline",
  poles: "spline",
  trace: "traced edge",
  beside: "offset",
};

const NAMES = new WeakMap<Drawn, ReadonlyMap<string, string>>();

/** What a curve or a point is called on the sheet: `line 3`, `point 2`, counted among its own kind in the order they were drawn. */
export function named(drawn: Drawn, id: string): string {
  const names = NAMES.get(drawn) ?? namesIn(drawn);
  NAMES.set(drawn, names);
  return groundTitle(id) ?? names.get(id) ?? "what is gone";
}

function namesIn(drawn: Drawn): ReadonlyMap<string, string> {
  const found = new Map(Object.keys(drawn.points).map((id, i) => [id, `point ${i + 1}`]));
  const counted: Record<string, number> = {};
  for (const { id, type } of drawn.curves) {
    const kind = CURVES[type];
    const number = (counted[kind] ?? 0) + 1;
    counted[kind] = number;
    found.set(id, `${kind} ${number}`);
  }
  return found;
}

export function isDrawn(step: Step): boolean {
  return (step.params["shape"] as Written | undefined)?.type === "drawing";
}

/** fresh: what a shape that is no drawing yet stands for. */
export function drawnOf(step: Step, status: StepStatus | undefined, fresh?: AsDrawn): Drawn {
  const written = (isDrawn(step) ? step.params["shape"] : (fresh?.shape ?? {})) as Written;
  const summary = sheetOf(status)?.drawing ?? fresh?.now ?? null;
  const kept = written.type === "drawing" ? written : {};
  const points = { ...kept.points, ...summary?.points };
  return { curves: kept.curves ?? [], holds: kept.holds ?? [], points, use: kept.use ?? null, now: summary };
}

/** A drawing with its lines where they are now: they are known before its areas are. */
export function along(drawn: Drawn, { points, paths }: DrawnLines): Drawn {
  const { now } = drawn;
  const curves = now?.curves.map((curve) => ({ ...curve, path: paths[curve.id] ?? curve.path }));
  return { ...drawn, points: { ...drawn.points, ...points }, now: now && curves ? { ...now, points, curves } : now };
}

/** All points that a curve is made of. */
export const pointsOf = (curve: Curve): string[] =>
  [
    curve.start,
    curve.end,
    curve.center,
    ...(curve.through ?? []),
    ...(curve.type === "poles" ? ((curve.poles as string[]) ?? []) : []),
  ].filter((p) => p !== undefined);

/** The holds that fit what is picked and are not there yet, with the picked things in the order they are taken. */
export function holdsFor(
  rules: readonly HoldKind[],
  drawn: Drawn,
  picked: readonly string[],
): { type: string; title: string; of: string[] }[] {
  const kind = (id: string) => (isAxis(id) ? "axis" : (drawn.curves.find((c) => c.id === id)?.type ?? "point"));
  const there = (type: string) =>
    drawn.holds.some(
      (h) => h.type === type && h.of.length === picked.length && h.of.every((id) => picked.includes(id)),
    );
  return rules.flatMap(({ type, title, takes }) => {
    if (there(type)) return [];
    for (const wanted of takes) {
      if (wanted.length !== picked.length) continue;
      const left = [...picked];
      const of = wanted.map((kinds) => {
        const i = left.findIndex((id) => kinds.split("|").includes(kind(id)));
        return i < 0 ? undefined : left.splice(i, 1)[0];
      });
      if (of.every((id) => id !== undefined)) return [{ type, title, of }];
    }
    return [];
  });
}

/** A hold with a number: what it is typed as, or reads. */
export const isMeasure = (hold: Hold): boolean => hold.value !== undefined;

/** What measures that are no lengths are told in. */
const SHARES = ["thickness", "camber", "crest"];
export function measureText(type: string, value: number, unit: LengthUnit): string {
  if (type === "angle") return `${trimmed(value, 2)}°`;
  return SHARES.includes(type) ? trimmed(value, 4) : lengthNumber(value, unit);
}

/** The point that lies just in a place. */
export const pointAt = (drawn: Drawn, at: XY): string | undefined =>
  Object.entries(drawn.points).find(([, place]) => apart(place, at) < 1e-6)?.[0];

export const apart = (a: XY, b: XY): number => Math.hypot(a[0] - b[0], a[1] - b[1]);
