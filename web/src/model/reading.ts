import type { BodySummary } from "../api/types";

/** What the lanes say at one place along a body. */
export interface Reading {
  at: number;
  area: number | null;
  curvature: number | null;
  twist: number | null;
  width: number | null;
}

/** Between the places that were read, straight; null where there is nothing to read. */
export function readAt(summary: BodySummary, at: number, flow: number): Reading {
  const { lanes } = summary;
  const places = lanes.at;
  const after =
    Math.min(
      Math.max(
        places.findIndex((p) => p >= at),
        1,
      ),
      places.length - 1,
    ) || places.length - 1;
  const [a, b] = [places[after - 1] ?? 0, places[after] ?? 1];
  const share = Math.min(1, Math.max(0, (at - a) / (b - a || 1)));
  const mix = (values: readonly (number | null)[] | undefined): number | null => {
    const [x, y] = [values?.[after - 1] ?? null, values?.[after] ?? null];
    return x === null || y === null ? (y ?? x) : x + (y - x) * share;
  };
  return {
    at,
    area: mix(lanes.area),
    curvature: mix(lanes.curvature?.[flow]),
    twist: mix(lanes.twist),
    width: mix(lanes.width),
  };
}
