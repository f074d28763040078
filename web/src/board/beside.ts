import { apart, type Drawn, type XY } from "./drawing";
import { endsOf } from "./gathered";

const SAMPLES = 48;

/** Places along a curve as it is drawn. */
function along(path: string): XY[] {
  const element = document.createElementNS("http://www.w3.org/2000/svg", "path");
  element.setAttribute("d", path);
  const length = element.getTotalLength();
  return Array.from({ length: SAMPLES + 1 }, (_, i) => element.getPointAtLength((length * i) / SAMPLES)).map((p) => [
    p.x,
    p.y,
  ]);
}

/** Places along a chain, in the order and the direction in which the core goes along it: from a free end, else from the start of its first curve. */
function chained(drawn: Drawn, curves: readonly string[]): XY[] {
  const left = drawn.curves.filter(({ id }) => curves.includes(id));
  const placesOf = (id: string) => along(drawn.now?.curves.find((c) => c.id === id)?.path ?? "");
  const [only] = left;
  if (only && left.length === 1 && !endsOf(only).length) return placesOf(only.id);
  const ends = left.flatMap(endsOf);
  let here = ends.find((point) => ends.filter((other) => other === point).length === 1) ?? ends[0];
  const found: XY[] = [];
  while (left.length) {
    const next = left.findIndex((curve) => endsOf(curve).includes(here ?? ""));
    const [curve] = next < 0 ? [] : left.splice(next, 1);
    if (!curve) break;
    const [start, end] = endsOf(curve);
    const places = placesOf(curve.id);
    found.push(...(start === here ? places : places.toReversed()));
    here = start === here ? end : start;
  }
  return found;
}

/** How far a place lies from a chain, mm: to the right of it, or outside of it where it closes, above 0. */
export function reachFrom(drawn: Drawn, curves: readonly string[]): (at: XY) => number {
  const places = chained(drawn, curves);
  const steps = places.slice(1).map((to, i): [XY, XY] => [places[i] ?? to, to]);
  const [first, last] = [places[0], places.at(-1)];
  const closed = first !== undefined && last !== undefined && places.length > 2 && apart(first, last) < 1e-3;
  const twice = steps.reduce((sum, [a, b]) => sum + a[0] * b[1] - a[1] * b[0], 0);
  // one that closes is gone round counter-clockwise
  const turned = closed && twice < 0 ? -1 : 1;
  return (at) => {
    let best = { off: Infinity, side: 1 };
    for (const [a, b] of steps) {
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
      const square = dx * dx + dy * dy;
      if (square < 1e-18) continue;
      const share = Math.min(Math.max(((at[0] - a[0]) * dx + (at[1] - a[1]) * dy) / square, 0), 1);
      const off = Math.hypot(at[0] - a[0] - share * dx, at[1] - a[1] - share * dy);
      if (off < best.off - 1e-9) best = { off, side: dx * (at[1] - a[1]) - dy * (at[0] - a[0]) > 0 ? -1 : 1 };
    }
    return Number.isFinite(best.off) ? turned * best.side * best.off : 0;
  };
}
