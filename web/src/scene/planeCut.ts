import type { BufferGeometry } from "three";

type Triple = readonly [number, number, number];

/** Where a plane square to a direction cuts a body's mesh: flat pairs of points. Only for the eye: numbers come from the core. */
export function planeCut(
  geometry: BufferGeometry,
  axis: Triple,
  at: number,
  belongs?: (point: Triple) => boolean,
): Float32Array {
  const cut = level(geometry, along(geometry, "position", axis), at);
  if (!belongs) return cut;
  const kept: number[] = [];
  for (let i = 0; i + 5 < cut.length; i += 6)
    if (belongs([cut[i] ?? 0, cut[i + 1] ?? 0, cut[i + 2] ?? 0])) kept.push(...cut.subarray(i, i + 6));
  return new Float32Array(kept);
}

/** Where a body's skin turns away from an eye that looks along a direction: flat pairs of points. */
export function seenRound(geometry: BufferGeometry, axis: Triple): Float32Array {
  return level(geometry, along(geometry, "normal", axis), 0);
}

/** Where triangles that look towards an eye far off along a direction meet those that don't, creases among them: flat pairs of points. */
export function turnsAway(geometry: BufferGeometry, axis: Triple): Float32Array {
  const position = geometry.getAttribute("position");
  const index = geometry.getIndex();
  if (!index) return new Float32Array();
  // vertices are doubled where faces meet
  const numbers = new Map<string, number>();
  const place = Array.from({ length: position.count }, (_, i) => {
    const at = [position.getX(i), position.getY(i), position.getZ(i)].map((v) => Math.round(v * 1e4)).join();
    const number = numbers.get(at) ?? i;
    numbers.set(at, number);
    return number;
  });
  const open = new Map<number, boolean>();
  const found: number[] = [];
  for (let t = 0; t < index.count; t += 3) {
    const corners = [0, 1, 2].map((k) => index.getX(t + k));
    const [a, b, c] = corners.map((i): Triple => [position.getX(i), position.getY(i), position.getZ(i)]);
    if (!a || !b || !c) continue;
    const towards = facing(a, b, c, axis);
    corners.forEach((from, k) => {
      const [p, q] = [place[from] ?? 0, place[corners[(k + 1) % 3] ?? 0] ?? 0];
      const edge = Math.min(p, q) * position.count + Math.max(p, q);
      const other = open.get(edge);
      if (other === undefined) open.set(edge, towards);
      else if (other !== towards)
        for (const i of [p, q]) found.push(position.getX(i), position.getY(i), position.getZ(i));
    });
  }
  return new Float32Array(found);
}

/** Whether a triangle looks along a direction; one that is seen edge on does not. */
function facing(a: Triple, b: Triple, c: Triple, axis: Triple): boolean {
  const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  const [vx, vy, vz] = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
  const n: Triple = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  return n[0] * axis[0] + n[1] * axis[1] + n[2] * axis[2] > 1e-6 * Math.hypot(...n);
}

function along(geometry: BufferGeometry, name: "position" | "normal", axis: Triple): Float32Array {
  const vectors = geometry.getAttribute(name);
  const found = new Float32Array(vectors.count);
  for (let i = 0; i < vectors.count; i++)
    found[i] = vectors.getX(i) * axis[0] + vectors.getY(i) * axis[1] + vectors.getZ(i) * axis[2];
  return found;
}

/** Where a value that is given at the vertices of a mesh passes a level. */
function level(geometry: BufferGeometry, value: Float32Array, at: number): Float32Array {
  const position = geometry.getAttribute("position");
  const index = geometry.getIndex();
  if (!index) return new Float32Array();
  const found: number[] = [];
  for (let t = 0; t < index.count; t += 3) {
    const corners = [index.getX(t), index.getX(t + 1), index.getX(t + 2)];
    const ends: number[] = [];
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k] ?? 0, corners[(k + 1) % 3] ?? 0];
      const [ha, hb] = [(value[a] ?? 0) - at, (value[b] ?? 0) - at];
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
