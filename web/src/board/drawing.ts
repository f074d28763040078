import type { SectionSummary, Step, StepStatus } from "../api/types";
import { sheetOf } from "../model/outline";
import type { components } from "../api/schema";

export type XY = readonly [number, number];
export type Act = components["schemas"]["Draw"]["acts"][number];
export type DrawingSummary = NonNullable<SectionSummary["drawing"]>;

/** A curve as it is written in the document. */
export interface Curve {
  id: string;
  type: "line" | "arc" | "circle" | "ellipse" | "spline" | "poles" | "trace";
  construction?: boolean;
  start?: string;
  end?: string;
  center?: string;
  radius?: number;
  width?: number;
  depth?: number;
  turn?: number;
  through?: string[];
  /** Control points by id; of a trace, places. */
  poles?: string[] | XY[];
  closed?: boolean;
  sharp?: number[];
  straight?: number[];
  handles?: { at: number; angle: number; pull?: number }[];
}

export interface Hold {
  id: string;
  type: string;
  of: string[];
  value?: number | string;
  reading?: boolean;
}

/** A drawing as the board shows it: what is written, and where everything is now. */
export interface Drawn {
  curves: Curve[];
  holds: Hold[];
  points: Record<string, XY>;
  now: DrawingSummary | null;
}

export const MEASURES = ["length", "distance", "across", "up", "radius", "diameter", "angle"];

interface Written {
  type?: string;
  points?: Record<string, XY>;
  curves?: Curve[];
  holds?: Hold[];
}

export function isDrawn(step: Step): boolean {
  return (step.params["shape"] as Written | undefined)?.type === "drawing";
}

export function drawnOf(step: Step, status: StepStatus | undefined): Drawn {
  const written = (step.params["shape"] ?? {}) as Written;
  const summary = sheetOf(status)?.drawing ?? null;
  const kept = written.type === "drawing" ? written : {};
  const points = { ...kept.points, ...summary?.points };
  return { curves: kept.curves ?? [], holds: kept.holds ?? [], points, now: summary };
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

const LETTERS: Record<Curve["type"], string> = {
  line: "l",
  arc: "r",
  circle: "r",
  ellipse: "e",
  spline: "s",
  poles: "s",
  trace: "t",
};

/** Holds that can be put on two or three things, or one: a letter for each, as the core takes them, in any order. */
const TAKES: Record<string, string[]> = {
  coincident: ["pp"],
  horizontal: ["l", "pp"],
  vertical: ["l", "pp"],
  parallel: ["ll"],
  perpendicular: ["ll"],
  equal: ["ll", "rr"],
  tangent: ["lr", "rr", "ls", "rs"],
  concentric: ["rr", "re", "ee"],
  midpoint: ["pl"],
  symmetric: ["ppl"],
  "on-curve": ["pl", "pr", "pe", "ps", "pt"],
  fixed: ["p", "l", "r", "e", "s"],
  length: ["l"],
  distance: ["pp", "pl", "ll"],
  across: ["pp", "l"],
  up: ["pp", "l"],
  radius: ["r"],
  diameter: ["r"],
  angle: ["ll"],
};

export const HOLD_WORDS: Record<string, string> = {
  coincident: "On one point",
  horizontal: "Horizontal",
  vertical: "Vertical",
  parallel: "Parallel",
  perpendicular: "Square to each other",
  equal: "Equal",
  tangent: "Tangent",
  concentric: "About one centre",
  midpoint: "At the middle",
  symmetric: "Symmetric",
  "on-curve": "On the curve",
  fixed: "Fixed",
  length: "Length",
  distance: "Distance",
  across: "Distance across",
  up: "Distance up",
  radius: "Radius",
  diameter: "Diameter",
  angle: "Angle",
};

/** The holds that fit what is picked, with the picked things in the order they are taken. */
export function holdsFor(drawn: Drawn, picked: readonly string[]): { type: string; of: string[] }[] {
  const letter = (id: string) => {
    const curve = drawn.curves.find((c) => c.id === id);
    return curve ? LETTERS[curve.type] : "p";
  };
  return Object.entries(TAKES).flatMap(([type, wanted]) => {
    for (const takes of wanted) {
      if (takes.length !== picked.length) continue;
      const left = [...picked];
      const of = [...takes].map((want) => {
        const i = left.findIndex((id) => letter(id) === want);
        return i < 0 ? undefined : left.splice(i, 1)[0];
      });
      if (of.every((id) => id !== undefined)) return [{ type, of }];
    }
    return [];
  });
}

export const apart = (a: XY, b: XY): number => Math.hypot(a[0] - b[0], a[1] - b[1]);
