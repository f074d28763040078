import type { BufferGeometry } from "three";

/** Where a plane square to a direction cuts a body's mesh: flat pairs of points. Only for the eye: numbers come from the core. */
export function planeCut(geometry: BufferGeometry, axis: readonly [number, number, number], at: number): Float32Array {
  const position = geometry.getAttribute("position");
  const index = geometry.getIndex();
  if (!index) return new Float32Array();
  const height = new Float32Array(position.count);
  for (let i = 0; i < position.count; i++)
    height[i] = position.getX(i) * axis[0] + position.getY(i) * axis[1] + position.getZ(i) * axis[2] - at;
  const found: number[] = [];
  for (let t = 0; t < index.count; t += 3) {
    const corners = [index.getX(t), index.getX(t + 1), index.getX(t + 2)];
    const ends: number[] = [];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k] ?? 0, corners[(k + 1) % 3] ?? 0];
      const [ha, hb] = [height[a] ?? 0, height[b] ?? 0];
      if (ha < 0 === hb < 0) continue;
      const share = ha / (ha - hb);
      ends.push(
        position.getX(a) + (position.getX(b) - position.getX(a)) * share,
        position.getY(a) + (position.getY(b) - position.getY(a)) * share,
        position.getZ(a) + (position.getZ(b) - position.getZ(a)) * share,
      );
    }
    if (ends.length === 6) found.push(...ends);
  }
  return new Float32Array(found);
}
