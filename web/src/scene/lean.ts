import type { BufferGeometry } from "three";

/** How far the skin leans at each vertex from the direction in which a part leaves its mould, degrees: above nought where it comes free, below where it holds fast. */
export function withLean(geometry: BufferGeometry, pull: readonly [number, number, number]): Float32Array {
  const normal = geometry.getAttribute("normal").array as Float32Array;
  const found = new Float32Array(normal.length / 3);
  for (let i = 0; i < found.length; i++) {
    const along =
      (normal[3 * i] ?? 0) * pull[0] + (normal[3 * i + 1] ?? 0) * pull[1] + (normal[3 * i + 2] ?? 0) * pull[2];
    found[i] = (Math.asin(Math.min(1, Math.max(-1, along))) * 180) / Math.PI;
  }
  return found;
}
