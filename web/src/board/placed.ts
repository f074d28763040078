import type { Step } from "../api/types";
import { dot, type SheetSummary } from "../model/outline";
import type { XY } from "./drawing";

type Triple = readonly [number, number, number];

/** How a drawing lies on its station: moved and turned. into: from the station into the drawing; out: back. turn: degrees. */
export interface Placed {
  into: (at: readonly [number, number]) => XY;
  out: (at: readonly [number, number]) => XY;
  turn: number;
}

export function placedOn(step: Step): Placed {
  const [rawX, rawY] = (step.params["at"] as [unknown, unknown] | undefined) ?? [0, 0];
  const [ax, ay] = [typeof rawX === "number" ? rawX : 0, typeof rawY === "number" ? rawY : 0];
  const turn = typeof step.params["turn"] === "number" ? step.params["turn"] : 0;
  const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  return {
    turn,
    into: ([u, v]) => [c * (u - ax) + s * (v - ay), -s * (u - ax) + c * (v - ay)],
    out: ([x, y]) => [c * x - s * y + ax, s * x + c * y + ay],
  };
}

/** From the drawing of a section into space. */
export function intoSpace({ origin, x, y }: SheetSummary, section: Step): (at: XY) => Triple {
  const { out } = placedOn(section);
  return (at) => {
    const [a, b] = out(at);
    return [0, 1, 2].map((i) => (origin[i] ?? 0) + a * (x[i] ?? 0) + b * (y[i] ?? 0)) as unknown as Triple;
  };
}

/** From space into the drawing of a section: onto its plane, and back from where the drawing was moved and turned. */
export function intoDrawing(summary: SheetSummary, section: Step): (p: Triple) => XY {
  const { origin, x, y } = summary;
  const { into } = placedOn(section);
  return (p) => {
    const off: Triple = [p[0] - origin[0], p[1] - origin[1], p[2] - origin[2]];
    return into([dot(off, x), dot(off, y)]);
  };
}
