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

/** From space into the drawing of a section: onto its plane, and back from where the drawing was moved and turned. */
export function intoDrawing(summary: SheetSummary, section: Step): (p: Triple) => XY {
  const { origin, x, y } = summary;
  const { into } = placedOn(section);
  return (p) => {
    const off: Triple = [p[0] - origin[0], p[1] - origin[1], p[2] - origin[2]];
    return into([dot(off, x), dot(off, y)]);
  };
}
