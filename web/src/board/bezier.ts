import { apart, type XY } from "./drawing";

/** A cubic piece of a curve: where it begins, its two controls, where it ends. */
export type Piece = readonly [XY, XY, XY, XY];

/** The pieces of a path of cubic pieces alone; none of any other. */
export function piecesOf(path: string): Piece[] {
  const [start, ...rest] = path.split("C");
  const from = numbersIn(start?.replace(/^M/, "") ?? "");
  let here: XY | undefined = from.length === 2 ? [from[0] ?? 0, from[1] ?? 0] : undefined;
  const found: Piece[] = [];
  for (const text of rest) {
    const n = numbersIn(text);
    if (!here || n.length !== 6) return [];
    const [a, b, end]: XY[] = [0, 2, 4].map((i): XY => [n[i] ?? 0, n[i + 1] ?? 0]);
    if (!a || !b || !end) return [];
    found.push([here, a, b, end]);
    here = end;
  }
  return found;
}

const numbersIn = (text: string): number[] => {
  const found = text
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return found.every(Number.isFinite) ? found : [];
};

/** The controls beside a place at which pieces meet: before and after it. */
export function controlsAt(pieces: readonly Piece[], at: XY): { before: XY | null; after: XY | null } {
  const near = (p: XY) => apart(p, at) < 1e-4;
  return {
    before: pieces.find(([, , , end]) => near(end))?.[2] ?? null,
    after: pieces.find(([start]) => near(start))?.[1] ?? null,
  };
}

/** How a curve bends at a place at which pieces begin or end. */
export function bendingNear(pieces: readonly Piece[], at: XY): Bending | null {
  const near = (p: XY) => apart(p, at) < 1e-4;
  const after = pieces.find(([start]) => near(start));
  if (after) return bendingAt(after, 0);
  const before = pieces.find(([, , , end]) => near(end));
  return before ? bendingAt(before, 1) : null;
}

/** Places along a curve, each with the way square to it, to the left, and how much it bends there: 1/mm, to the left where it is above 0. */
export interface Bending {
  at: XY;
  left: XY;
  bend: number;
}

export function bendings(pieces: readonly Piece[], each: number): Bending[] {
  return pieces.flatMap((piece, number) => {
    const last = number === pieces.length - 1 ? 1 : 0;
    return Array.from({ length: each + last }, (_, i) => bendingAt(piece, i / each));
  });
}

function bendingAt([a, b, c, d]: Piece, t: number): Bending {
  const s = 1 - t;
  const mix = (k: 0 | 1) => s ** 3 * a[k] + 3 * s * s * t * b[k] + 3 * s * t * t * c[k] + t ** 3 * d[k];
  const first = (k: 0 | 1) => 3 * (s * s * (b[k] - a[k]) + 2 * s * t * (c[k] - b[k]) + t * t * (d[k] - c[k]));
  const second = (k: 0 | 1) => 6 * (s * (c[k] - 2 * b[k] + a[k]) + t * (d[k] - 2 * c[k] + b[k]));
  const [dx, dy] = [first(0), first(1)];
  const size = Math.hypot(dx, dy) || 1e-12;
  return { at: [mix(0), mix(1)], left: [-dy / size, dx / size], bend: (dx * second(1) - dy * second(0)) / size ** 3 };
}
