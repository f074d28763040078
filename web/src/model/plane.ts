import type { StepStatus } from "../api/types";
import { frameOf, sectionSummary } from "./outline";

type Triple = readonly [number, number, number];

/** A plane in space: a place on it, mm, and its two directions. */
export interface Plane {
  origin: Triple;
  x: Triple;
  y: Triple;
}

/** The plane of a section or a station, where the step is one. */
export function planeOf(status: StepStatus | undefined): Plane | null {
  const found = frameOf(status) ?? sectionSummary(status);
  return found ? { origin: found.origin, x: found.x, y: found.y } : null;
}
