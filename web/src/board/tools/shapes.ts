import type { Typed, TypedNumber } from "../../sheet/useTyped";
import { apart, type XY } from "../drawing";

export const typedNumber = (typed: TypedNumber | undefined): number | null => typed?.worth ?? null;

export const has = (typed: TypedNumber | undefined): typed is TypedNumber => typed !== undefined;

/** The place at a typed length and angle from the last. */
export function steered(from: XY, pointer: XY, { length, angle }: Typed): XY {
  const size = typedNumber(length) ?? apart(from, pointer);
  const degrees = typedNumber(angle);
  const turn = degrees !== null ? (degrees * Math.PI) / 180 : Math.atan2(pointer[1] - from[1], pointer[0] - from[0]);
  return [from[0] + size * Math.cos(turn), from[1] + size * Math.sin(turn)];
}

/** A place turned about another, radians. */
export function turnedAbout([cx, cy]: XY, [x, y]: XY, turn: number): XY {
  const [dx, dy, c, s] = [x - cx, y - cy, Math.cos(turn), Math.sin(turn)];
  return [cx + dx * c - dy * s, cy + dx * s + dy * c];
}

export const path = (...points: readonly XY[]): string => `M${points.map((p) => `${p[0]} ${p[1]}`).join("L")}`;

export const ring = (center: XY, a: number, b: number = a): string =>
  `M${center[0] + a} ${center[1]}A${a} ${b} 0 1 1 ${center[0] - a} ${center[1]}A${a} ${b} 0 1 1 ${center[0] + a} ${center[1]}Z`;

export function box(low: XY, high: XY): [XY, XY, XY, XY] {
  return [low, [high[0], low[1]], high, [low[0], high[1]]];
}

/** The far corner: where the pointer is, at the typed sizes. */
export function farCorner(from: XY, pointer: XY, { width, depth }: Typed): XY {
  const [dx, dy] = [pointer[0] - from[0], pointer[1] - from[1]];
  const w = typedNumber(width) ?? Math.abs(dx);
  const d = typedNumber(depth) ?? Math.abs(dy);
  return [from[0] + (dx < 0 ? -w : w), from[1] + (dy < 0 ? -d : d)];
}

export function circleThrough(a: XY, b: XY, c: XY): XY | null {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-9) return null;
  const [A, B, C] = [a, b, c].map((p) => p[0] ** 2 + p[1] ** 2) as [number, number, number];
  return [
    (A * (b[1] - c[1]) + B * (c[1] - a[1]) + C * (a[1] - b[1])) / d,
    (A * (c[0] - b[0]) + B * (a[0] - c[0]) + C * (b[0] - a[0])) / d,
  ];
}

export const leftOf = (a: XY, b: XY, p: XY): boolean =>
  (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0;

/** The slot between two centres: half its width is the way of the pointer from the line between them. */
export function slot(a: XY, b: XY, pointer: XY, width: TypedNumber | undefined) {
  const size = apart(a, b) || 1;
  const [ux, uy] = [(b[0] - a[0]) / size, (b[1] - a[1]) / size];
  const away = Math.abs(ux * (pointer[1] - a[1]) - uy * (pointer[0] - a[0]));
  const typed = typedNumber(width);
  const r = Math.max(typed === null ? away : typed / 2, 1e-3);
  const at = (p: XY, side: number): XY => [p[0] - side * uy * r, p[1] + side * ux * r];
  return { r, corners: [at(a, -1), at(b, -1), at(b, 1), at(a, 1)] as const };
}

/** A polygon about a centre with its first corner towards a place: as many sides and as large across its corners as was typed. */
export function polygon(center: XY, corner: XY, typed: Typed): { radius: number; places: XY[] } {
  const count = Math.min(Math.max(Math.round(typedNumber(typed["sides"]) ?? 6), 3), 64);
  const across = typedNumber(typed["diameter"]);
  const radius = across === null ? apart(center, corner) : across / 2;
  const begin = Math.atan2(corner[1] - center[1], corner[0] - center[0]);
  const places = Array.from({ length: count }, (_, i): XY => {
    const turn = begin + (2 * Math.PI * i) / count;
    return [center[0] + radius * Math.cos(turn), center[1] + radius * Math.sin(turn)];
  });
  return { radius, places };
}

/** A rounded rectangle: the ends of its sides, counter-clockwise from the left end of the lowest, and the centres of its corners in turn. */
export function rounded([x0, y0]: XY, [x1, y1]: XY, r: number): { ends: XY[]; centers: XY[] } {
  return {
    ends: [
      [x0 + r, y0],
      [x1 - r, y0],
      [x1, y0 + r],
      [x1, y1 - r],
      [x1 - r, y1],
      [x0 + r, y1],
      [x0, y1 - r],
      [x0, y0 + r],
    ],
    centers: [
      [x1 - r, y0 + r],
      [x1 - r, y1 - r],
      [x0 + r, y1 - r],
      [x0 + r, y0 + r],
    ],
  };
}
