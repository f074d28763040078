import type { CombOut } from "../api/types";

/** Length of a tooth that nine of ten are shorter than, against the size of what bends. */
const LONG = 0.07;
/** No tooth is longer than so many of these: a nose or a tip would leave nothing to be seen of the rest. */
const MOST = 2.5;

/** Teeth, and the line over their ends, as pairs of points: away from the centre of curvature, in proportion to the curvature. */
export function combSegments(combs: readonly CombOut[]): Float32Array {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const sizes: number[] = [];
  for (const { points, bends } of combs) {
    for (const point of points)
      point.forEach((value, i) => {
        low[i] = Math.min(low[i] ?? value, value);
        high[i] = Math.max(high[i] ?? value, value);
      });
    sizes.push(...bends.map((bend) => Math.hypot(...bend)));
  }
  const told = sizes.filter((size) => size > 0).sort((a, b) => a - b);
  const usual = told[Math.floor(0.9 * told.length)] ?? 0;
  if (!usual) return new Float32Array();
  const reach = (LONG * Math.hypot(...high.map((value, i) => value - (low[i] ?? 0)))) / usual;
  const found: number[] = [];
  for (const { points, bends } of combs) {
    let before: number[] | null = null;
    points.forEach((point, k) => {
      const bend = bends[k] ?? [0, 0, 0];
      const length = reach * Math.min(1, (MOST * usual) / (Math.hypot(...bend) || 1));
      const end = point.map((value, i) => value - length * (bend[i] ?? 0));
      found.push(...point, ...end);
      if (before) found.push(...before, ...end);
      before = end;
    });
  }
  return Float32Array.from(found);
}
