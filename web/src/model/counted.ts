import type { BodySummary } from "../api/types";
import { dot } from "./outline";

type Triple = readonly [number, number, number];

/** Of a body that turns back, a plane may cut another part as well: further off along its line than this share of it. */
const ELSEWHERE = 0.25;

/** A line that comes back as near as this to where it began, mm, is a ring. */
const BACK = 1e-6;

/** The plane that cuts a body at a place of its Run, and whether a point of that cut belongs there. */
export interface CutThere {
  axis: Triple;
  level: number;
  belongs: (point: Triple) => boolean;
}

/** The place of the Run, mm, at which a point of a body lies. */
export function countedAt(summary: BodySummary, point: Triple): number {
  const line = summary.line ?? [];
  if (!line.length) return dot(point, summary.axis);
  let best = { far: Infinity, at: 0 };
  line.slice(1).forEach((end, i) => {
    const start = line[i] ?? end;
    const share = Math.max(0, Math.min(1, shareAlong(start.point, end.point, point)));
    const far = Math.hypot(...between(start.point, end.point, share).map((value, k) => value - (point[k] ?? 0)));
    if (far < best.far) best = { far, at: start.at + share * (end.at - start.at) };
  });
  return best.at;
}

/** The plane square to the Run at a place on it, mm. */
export function cutThere(summary: BodySummary, at: number): CutThere {
  const line = summary.line ?? [];
  const reached = line.findIndex((place) => place.at >= at);
  const after = reached < 0 ? line.length - 1 : Math.max(reached, 1);
  const [start, end] = [line[after - 1], line[after]];
  if (!start || !end) return { axis: summary.axis, level: at, belongs: () => true };
  const share = Math.max(0, Math.min(1, (at - start.at) / (end.at - start.at || 1)));
  const near = between(start.point, end.point, share);
  const way = between(start.way, end.way, share);
  const size = Math.hypot(...way) || 1;
  const axis: Triple = [way[0] / size, way[1] / size, way[2] / size];
  const reach = ELSEWHERE * (line.at(-1)?.at ?? 0);
  const [first, last] = [line[0] ?? start, line.at(-1) ?? end];
  const round = Math.hypot(...last.point.map((value, k) => value - (first.point[k] ?? 0)));
  const apart = (point: Triple): number => {
    const far = Math.abs(countedAt(summary, point) - at);
    // a ring goes on where it begins
    return round < BACK ? Math.min(far, last.at - far) : far;
  };
  return { axis, level: dot(near, axis), belongs: (point) => apart(point) < reach };
}

const between = (a: Triple, b: Triple, share: number): Triple => [
  a[0] + share * (b[0] - a[0]),
  a[1] + share * (b[1] - a[1]),
  a[2] + share * (b[2] - a[2]),
];

function shareAlong(a: Triple, b: Triple, point: Triple): number {
  const way: Triple = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  return dot([point[0] - a[0], point[1] - a[1], point[2] - a[2]], way) / (dot(way, way) || 1);
}
