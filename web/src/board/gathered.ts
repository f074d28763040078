import { apart, pointsOf, type Curve, type Drawn, type XY } from "./drawing";

/** Things of a drawing that are picked together: in a box, along a chain, all of them. */

/** Two opposite corners, mm. */
export type Box = readonly [XY, XY];

/** The curves that lie in a box with all that is drawn of them, and the points in it that belong to no other curve. extent: of a curve as it is drawn. */
export function inBox(drawn: Drawn, [a, b]: Box, extent: (curve: string) => Box | null): string[] {
  const [low, high] = [0, 1].map((side) =>
    ([0, 1] as const).map((axis) => Math[side ? "max" : "min"](a[axis], b[axis])),
  );
  const holds = (p: XY) =>
    ([0, 1] as const).every((axis) => p[axis] >= (low?.[axis] ?? 0) && p[axis] <= (high?.[axis] ?? 0));
  const curves = drawn.curves.filter(({ id }) => extent(id)?.every(holds));
  const taken = new Set(drawn.curves.flatMap(pointsOf));
  const points = Object.entries(drawn.points).filter(([id, at]) => !taken.has(id) && holds(at));
  return [...curves.map(({ id }) => id), ...points.map(([id]) => id)];
}

/** Everything that is drawn. */
export function everything(drawn: Drawn): string[] {
  const taken = new Set(drawn.curves.flatMap(pointsOf));
  return [...drawn.curves.map(({ id }) => id), ...Object.keys(drawn.points).filter((id) => !taken.has(id))];
}

/** The ends of a curve; none where it closes by itself. */
export function endsOf(curve: Curve): string[] {
  if (curve.closed) return [];
  const row = curve.through ?? (curve.type === "poles" ? (curve.poles as string[] | undefined) : undefined);
  return (row ? [row[0], row.at(-1)] : [curve.start, curve.end]).filter((p) => p !== undefined);
}

/** A curve and all that go on from its ends, one after the other: what is drawn for construction is no part of what is drawn in full. */
export function chainOf(drawn: Drawn, from: string): string[] {
  const kind = drawn.curves.find(({ id }) => id === from)?.construction ?? false;
  const alike = drawn.curves.filter(({ construction }) => (construction ?? false) === kind);
  const ends = new Map(alike.map((curve) => [curve.id, endsOf(curve)]));
  const meet = (a: string, b: string) => {
    const [at, there] = [drawn.points[a], drawn.points[b]];
    return a === b || (at !== undefined && there !== undefined && apart(at, there) < 1e-6);
  };
  const found = [from];
  for (const current of found)
    for (const [id, own] of ends)
      if (!found.includes(id) && own.some((a) => ends.get(current)?.some((b) => meet(a, b)))) found.push(id);
  return drawn.curves.flatMap(({ id }) => (found.includes(id) ? [id] : []));
}

/** All points that move when things are moved. */
export function pointsUnder(drawn: Drawn, things: readonly string[]): string[] {
  const of = (id: string) => {
    const curve = drawn.curves.find((c) => c.id === id);
    return curve ? pointsOf(curve) : drawn.points[id] ? [id] : [];
  };
  return [...new Set(things.flatMap(of))];
}
