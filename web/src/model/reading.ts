import type { BodySummary } from "../api/types";

/** What the lanes say at one place along a body. */
export interface Reading {
  at: number;
  area: number | null;
  curvature: number | null;
  twist: number | null;
  width: number | null;
}

type Values = readonly (number | null)[] | undefined;

/** So many readings make the curve that is read between two of them. */
const STENCIL = 8;
const NEAR = 1e-6;

/**
 * Between the places that were read: by the polynomial through those about it, none of them beyond a place where what is read may bend. null where
 * there is nothing to read.
 */
export function readAt(summary: BodySummary, at: number, flow: number): Reading {
  const { lanes } = summary;
  const places = lanes.at;
  const last = places.length - 1;
  const there = Math.min(Math.max(at, places[0] ?? 0), places[last] ?? 0);
  const beyond = places.findIndex((place) => place > there);
  const before = beyond < 0 ? Math.max(last - 1, 0) : Math.max(beyond - 1, 0);
  // where nobody knows of its bends it may step anywhere: straight from reading to reading
  const known = (lanes.bends ?? []).length > 0;
  const [first, end] = known ? bayOf(summary, there, places, before) : [before, Math.min(before + 1, last)];
  const mix = (values: Values) => between(places, values, there, first, end, before);
  return {
    at,
    area: mix(lanes.area),
    curvature: mix(lanes.curvature?.[flow]),
    twist: mix(lanes.twist),
    width: mix(lanes.width),
  };
}

/** The first and the last reading of the bay that holds a place, whose bends are known. */
function bayOf(summary: BodySummary, at: number, places: readonly number[], before: number): [number, number] {
  const bends = summary.lanes.bends ?? [];
  const low = Math.max(...bends.filter((s) => s <= at + NEAR), -Infinity);
  const high = Math.min(...bends.filter((s) => s > at + NEAR), Infinity);
  const first = places.findIndex((place) => place >= low - NEAR * 10);
  const beyond = places.findIndex((place) => place > high + NEAR * 10);
  return [Math.min(Math.max(first, 0), before), Math.max(beyond < 0 ? places.length - 1 : beyond - 1, before)];
}

function between(
  places: readonly number[],
  values: Values,
  at: number,
  first: number,
  end: number,
  before: number,
): number | null {
  if (!values) return null;
  const begin = Math.max(first, Math.min(before - STENCIL / 2 + 1, end - STENCIL + 1));
  let found = 0;
  const used: number[] = [];
  for (let i = begin; i <= Math.min(begin + STENCIL - 1, end); i++) used.push(i);
  for (const i of used) {
    const value = values[i] ?? null;
    if (value === null) return values[before] ?? values[before + 1] ?? null;
    let weight = 1;
    for (const j of used) if (j !== i) weight *= (at - (places[j] ?? 0)) / ((places[i] ?? 0) - (places[j] ?? 0));
    found += weight * value;
  }
  return used.length ? found : null;
}
