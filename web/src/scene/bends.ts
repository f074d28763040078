import { BufferAttribute, type BufferGeometry } from "three";

/** The attribute of a mesh that holds how sharply it bends. */
export const BEND = "_bend";
/** Vertices of two faces at one place whose normals are as near as this belong to one smooth skin. */
const SMOOTH = 0.9998;
/** Bends that are sharper than those of all but this share of the skin have the last colour: a nose would leave nothing to be seen of the rest. */
const RARE = 0.05;
/** Bends are counted in so many steps, from the minus sixth power of ten on, so many for each power. */
const STEPS = 400;
const PER_TEN = 40;
const LEAST = 6;
/** Radii that the last colour may have, by tens. */
const ROUND = [1, 1.5, 2, 3, 5, 7];

/**
 * How sharply a body bends at each vertex of its mesh, 1/mm: the principal curvature that is the larger in size, above nought where the skin is
 * round there and below where it is hollow. The normals of a mesh are those of the surface, so what they turn by along the edges of a triangle says
 * how the surface bends (Rusinkiewicz 2004, "Estimating curvatures and their derivatives on triangle meshes").
 */
export function withBends(geometry: BufferGeometry): BufferGeometry {
  if (geometry.hasAttribute(BEND)) return geometry;
  const position = geometry.getAttribute("position").array as Float32Array;
  const normal = geometry.getAttribute("normal").array as Float32Array;
  const index = geometry.getIndex()?.array ?? [];
  const owner = weld(position, normal);
  const tensors = new Float64Array((position.length / 3) * 6);
  const weights = new Float64Array(position.length / 3);
  for (let t = 0; t + 2 < index.length; t += 3)
    addTriangle(position, normal, [index[t] ?? 0, index[t + 1] ?? 0, index[t + 2] ?? 0], owner, tensors, weights);
  const bends = new Float32Array(position.length / 3);
  for (let i = 0; i < bends.length; i++) {
    const at = owner[i] ?? i;
    bends[i] = sharper(tensors, 6 * at, normal, 3 * i) / (weights[at] || 1);
  }
  geometry.setAttribute(BEND, new BufferAttribute(bends, 1));
  return geometry;
}

/** The bend, 1/mm, that has the last colour: its radius is a round number in the unit. mmPerUnit: of the design. */
export function fullBend(geometries: readonly BufferGeometry[], mmPerUnit: number): number {
  const areas = new Float64Array(STEPS);
  let whole = 0;
  for (const geometry of geometries) {
    const bends = withBends(geometry).getAttribute(BEND).array;
    const index = geometry.getIndex()?.array ?? [];
    const position = geometry.getAttribute("position").array as Float32Array;
    for (let t = 0; t + 2 < index.length; t += 3) {
      const [a, b, c] = [index[t] ?? 0, index[t + 1] ?? 0, index[t + 2] ?? 0];
      const area = Math.hypot(...doubleArea(position, a, b, c));
      const size = Math.max(Math.abs(bends[a] ?? 0), Math.abs(bends[b] ?? 0), Math.abs(bends[c] ?? 0));
      const step = Math.min(STEPS - 1, Math.max(0, Math.floor(PER_TEN * (Math.log10(size) + LEAST))));
      areas[step] = (areas[step] ?? 0) + area;
      whole += area;
    }
  }
  let step = STEPS;
  for (let left = RARE * whole; step > 1 && left >= 0; left -= areas[step] ?? 0) step--;
  const radius = 10 ** (LEAST - (step + 0.5) / PER_TEN) / mmPerUnit;
  const ten = 10 ** Math.floor(Math.log10(radius));
  const shade = [...ROUND].reverse().find((round) => round * ten <= radius * (1 + 1e-9)) ?? 1;
  return 1 / (shade * ten * mmPerUnit);
}

type Three = [number, number, number];

/** For each vertex the first one at its place with its normal. */
function weld(position: Float32Array, normal: Float32Array): Uint32Array {
  const owner = new Uint32Array(position.length / 3);
  const known = new Map<string, number[]>();
  for (let i = 0; i < owner.length; i++) {
    const key = `${position[3 * i]} ${position[3 * i + 1]} ${position[3 * i + 2]}`;
    const here = known.get(key);
    const same = here?.find((other) => dot(at(normal, i), at(normal, other)) > SMOOTH);
    owner[i] = same ?? i;
    if (same !== undefined) continue;
    if (here) here.push(i);
    else known.set(key, [i]);
  }
  return owner;
}

function addTriangle(
  position: Float32Array,
  normal: Float32Array,
  corners: Three,
  owner: Uint32Array,
  tensors: Float64Array,
  weights: Float64Array,
): void {
  const [a, b, c] = corners;
  const face = doubleArea(position, a, b, c);
  const area = Math.hypot(...face);
  if (area < 1e-12) return;
  const n = scaled(face, 1 / area);
  const first = minus(at(position, c), at(position, b));
  const t = scaled(first, 1 / Math.hypot(...first));
  const s = cross(n, t);
  // the turn of the normals along three edges says three numbers, six times over: least squares
  let uu = 0,
    uv = 0,
    vv = 0;
  const right = [0, 0, 0] as Three;
  for (const [from, to] of [
    [b, c],
    [c, a],
    [a, b],
  ] as const) {
    const edge = minus(at(position, to), at(position, from));
    const turn = minus(at(normal, to), at(normal, from));
    const [u, v, du, dv] = [dot(edge, t), dot(edge, s), dot(turn, t), dot(turn, s)];
    uu += u * u;
    uv += u * v;
    vv += v * v;
    right[0] += u * du;
    right[1] += v * du + u * dv;
    right[2] += v * dv;
  }
  const solved = solve(uu, uv, vv, right);
  if (!solved) return;
  const [e, f, g] = solved;
  for (const corner of corners) {
    const to = 6 * (owner[corner] ?? corner);
    let k = 0;
    for (let i = 0; i < 3; i++)
      for (let j = i; j < 3; j++) {
        const [ti = 0, tj = 0, si = 0, sj = 0] = [t[i], t[j], s[i], s[j]];
        tensors[to + k] = (tensors[to + k] ?? 0) + area * (e * ti * tj + f * (ti * sj + si * tj) + g * si * sj);
        k++;
      }
    weights[to / 6] = (weights[to / 6] ?? 0) + area;
  }
}

/** [uu uv 0; uv uu+vv uv; 0 uv vv] x = right; null for a sliver. */
function solve(uu: number, uv: number, vv: number, [p, q, r]: Three): Three | null {
  const middle = uu + vv;
  const whole = uu * (middle * vv - uv * uv) - uv * uv * vv;
  if (Math.abs(whole) < 1e-9 * middle ** 3) return null;
  return [
    (p * (middle * vv - uv * uv) - uv * (q * vv - uv * r)) / whole,
    (uu * (q * vv - uv * r) - p * uv * vv) / whole,
    (uu * (middle * r - uv * q) - uv * (uv * r) + uv * uv * p) / whole,
  ];
}

/** The eigenvalue that is larger in size of a symmetric tensor in the plane across a normal. */
function sharper(tensors: Float64Array, from: number, normal: Float32Array, where: number): number {
  const n: Three = [normal[where] ?? 0, normal[where + 1] ?? 0, normal[where + 2] ?? 1];
  const aside: Three = Math.abs(n[0]) < 0.8 ? [1, 0, 0] : [0, 1, 0];
  const across = cross(n, aside);
  const u = scaled(across, 1 / Math.hypot(...across));
  const v = cross(n, u);
  const [xx = 0, xy = 0, xz = 0, yy = 0, yz = 0, zz = 0] = tensors.subarray(from, from + 6);
  const bent = (a: Three, b: Three) =>
    a[0] * (xx * b[0] + xy * b[1] + xz * b[2]) +
    a[1] * (xy * b[0] + yy * b[1] + yz * b[2]) +
    a[2] * (xz * b[0] + yz * b[1] + zz * b[2]);
  const [p, q, r] = [bent(u, u), bent(u, v), bent(v, v)];
  const mean = (p + r) / 2;
  return mean + (mean < 0 ? -1 : 1) * Math.hypot((p - r) / 2, q);
}

const at = (array: Float32Array, i: number): Three => [array[3 * i] ?? 0, array[3 * i + 1] ?? 0, array[3 * i + 2] ?? 0];
const minus = (a: Three, b: Three): Three => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const scaled = (a: Three, by: number): Three => [a[0] * by, a[1] * by, a[2] * by];
const dot = (a: Three, b: Three): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Three, b: Three): Three => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

function doubleArea(position: ArrayLike<number>, a: number, b: number, c: number): Three {
  const corner = (i: number): Three => [position[3 * i] ?? 0, position[3 * i + 1] ?? 0, position[3 * i + 2] ?? 0];
  return cross(minus(corner(b), corner(a)), minus(corner(c), corner(a)));
}
