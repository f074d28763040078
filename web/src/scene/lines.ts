type Triple = readonly [number, number, number];

/** The pieces of a line through flat points, as pairs of points. */
export function chords(points: Float32Array): Float32Array {
  const segments = new Float32Array(Math.max(points.length - 3, 0) * 2);
  for (let i = 0; i + 5 < points.length; i += 3) segments.set(points.subarray(i, i + 6), i * 2);
  return segments;
}

export function triples(flat: Float32Array): [number, number, number][] {
  return Array.from({ length: flat.length / 3 }, (_, i) => [
    flat[3 * i] ?? 0,
    flat[3 * i + 1] ?? 0,
    flat[3 * i + 2] ?? 0,
  ]);
}

/** The place on a line nearest to the pointer: between which of its points, how far from the first of them, and how many pixels off. */
export interface NearestPlace {
  index: number;
  part: number;
  pixels: number;
}

/** The place on a line through points (mm) that is seen nearest to a pixel; null for no line. onScreen: pixels at which a place is seen. */
export function nearestPlace(
  points: readonly Triple[],
  x: number,
  y: number,
  onScreen: (at: Triple) => [number, number],
): NearestPlace | null {
  let best: NearestPlace | null = null;
  let [ax, ay] = points[0] ? onScreen(points[0]) : [0, 0];
  for (let i = 0; i + 1 < points.length; i++) {
    const [bx, by] = onScreen(points[i + 1] ?? [0, 0, 0]);
    const [dx, dy] = [bx - ax, by - ay];
    const part = Math.min(Math.max(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1), 0), 1);
    const pixels = Math.hypot(ax + part * dx - x, ay + part * dy - y);
    if (best === null || pixels < best.pixels) best = { index: i, part, pixels };
    [ax, ay] = [bx, by];
  }
  return best;
}
