import { apart, type Drawn, type XY } from "./drawing";

/** A place that is pointed at. point, curve: what it lies on. way: why it is just there, in a word. */
export interface Spot {
  at: XY;
  point?: string;
  /** A curve whose middle it is, or on which it lies. */
  middle?: string;
  on?: string;
  /** Where two curves cross: the other one. */
  also?: string;
  /** A line from the place before touches the curve here. */
  touches?: string;
  level?: "horizontal" | "vertical";
  way: string;
  /** An edge of a body in the underlay. */
  trace?: { step: string; part: string };
}

interface Options {
  /** mm that are near. */
  near: number;
  /** Grid in mm; zero: none. */
  grid: number;
  /** The place before, to go level with. */
  from?: XY | undefined;
  /** Points that are not to be met: those being dragged. */
  without?: ReadonlySet<string>;
  /** Places of the underlay. */
  under?: readonly XY[];
}

/** The place that is meant near the pointer: points first, then middles, curves, the underlay, level lines, the grid. */
export function snap(pointer: XY, drawn: Drawn, { near, grid, from, without, under = [] }: Options): Spot {
  let best: Spot | null = null;
  let least = near;
  const offer = (spot: Spot, bonus = 0) => {
    const off = apart(spot.at, pointer) - bonus;
    if (off < least) {
      least = off;
      best = spot;
    }
  };
  for (const [point, at] of Object.entries(drawn.points))
    if (!without?.has(point)) offer({ at, point, way: "point" }, near * 0.4);
  for (const at of under) offer({ at, way: "underlay" }, near * 0.2);
  for (const { id, start, end } of straights(drawn, without)) {
    offer({ at: [(start[0] + end[0]) / 2, (start[1] + end[1]) / 2], middle: id, way: "middle" }, near * 0.3);
    const foot = onSegment(pointer, start, end);
    if (foot) offer({ at: foot, on: id, way: "on the line" });
  }
  for (const { id, center, radius, whole } of rounds(drawn, without)) {
    const size = apart(pointer, center);
    if (size > 1e-9)
      offer({
        at: [
          center[0] + ((pointer[0] - center[0]) * radius) / size,
          center[1] + ((pointer[1] - center[1]) * radius) / size,
        ],
        on: id,
        way: whole ? "on the circle" : "on the arc",
      });
  }
  for (const { at, on, also } of crossings(drawn, without)) offer({ at, on, also, way: "crossing" }, near * 0.35);
  if (from)
    for (const { id, center, radius } of rounds(drawn, without))
      for (const at of touching(from, center, radius)) offer({ at, on: id, touches: id, way: "tangent" }, near * 0.3);
  if (best) return best;
  const onGrid = (value: number) => (grid ? Math.round(value / grid) * grid : value);
  if (from) {
    const [dx, dy] = [Math.abs(pointer[0] - from[0]), Math.abs(pointer[1] - from[1])];
    if (dy < near && dx > near) return { at: [onGrid(pointer[0]), from[1]], level: "horizontal", way: "horizontal" };
    if (dx < near && dy > near) return { at: [from[0], onGrid(pointer[1])], level: "vertical", way: "vertical" };
  }
  return { at: [clean(onGrid(pointer[0])), clean(onGrid(pointer[1]))], way: grid ? "grid" : "" };
}

interface Straight {
  id: string;
  start: XY;
  end: XY;
}

interface Round {
  id: string;
  center: XY;
  radius: number;
  /** Not only an arc. */
  whole: boolean;
  /** Whether a place on the circle belongs to it. */
  holds: (at: XY) => boolean;
}

type Without = ReadonlySet<string> | undefined;

const left = (drawn: Drawn, without: Without) =>
  drawn.curves.filter((c) => ![c.start, c.end, c.center].some((p) => p !== undefined && without?.has(p)));

function straights(drawn: Drawn, without: Without): Straight[] {
  return left(drawn, without).flatMap((curve) => {
    const [start, end] = [drawn.points[curve.start ?? ""], drawn.points[curve.end ?? ""]];
    return curve.type === "line" && start && end ? [{ id: curve.id, start, end }] : [];
  });
}

function rounds(drawn: Drawn, without: Without): Round[] {
  return left(drawn, without).flatMap((curve): Round[] => {
    const center = drawn.points[curve.center ?? ""];
    const [start, end] = [drawn.points[curve.start ?? ""], drawn.points[curve.end ?? ""]];
    if (!center) return [];
    if (curve.type === "circle" && curve.radius)
      return [{ id: curve.id, center, radius: curve.radius, whole: true, holds: () => true }];
    if (curve.type !== "arc" || !start || !end) return [];
    const turn = (p: XY) => Math.atan2(p[1] - center[1], p[0] - center[0]);
    const past = (p: XY) => (turn(p) - turn(start) + 4 * Math.PI) % (2 * Math.PI);
    return [
      {
        id: curve.id,
        center,
        radius: apart(start, center),
        whole: false,
        holds: (p) => past(p) <= past(end) + 1e-9,
      },
    ];
  });
}

/** Places where lines, arcs and circles cross. */
function crossings(drawn: Drawn, without: Without): { at: XY; on: string; also: string }[] {
  const lines = straights(drawn, without);
  const circles = rounds(drawn, without);
  const found: { at: XY; on: string; also: string }[] = [];
  lines.forEach((a, i) => {
    for (const b of lines.slice(i + 1)) {
      const at = whereLinesMeet(a, b);
      if (at) found.push({ at, on: a.id, also: b.id });
    }
    for (const c of circles) for (const at of onLineAt(a, c)) if (c.holds(at)) found.push({ at, on: a.id, also: c.id });
  });
  circles.forEach((a, i) => {
    for (const b of circles.slice(i + 1))
      for (const at of whereCirclesMeet(a, b)) if (a.holds(at) && b.holds(at)) found.push({ at, on: a.id, also: b.id });
  });
  return found;
}

function whereLinesMeet(a: Straight, b: Straight): XY | null {
  const [ux, uy] = [a.end[0] - a.start[0], a.end[1] - a.start[1]];
  const [vx, vy] = [b.end[0] - b.start[0], b.end[1] - b.start[1]];
  const turn = ux * vy - uy * vx;
  if (Math.abs(turn) < 1e-12) return null;
  const [wx, wy] = [b.start[0] - a.start[0], b.start[1] - a.start[1]];
  const [s, t] = [(wx * vy - wy * vx) / turn, (wx * uy - wy * ux) / turn];
  return s > 0 && s < 1 && t > 0 && t < 1 ? [a.start[0] + s * ux, a.start[1] + s * uy] : null;
}

function onLineAt({ start, end }: Straight, { center, radius }: Round): XY[] {
  const [ux, uy] = [end[0] - start[0], end[1] - start[1]];
  const size = Math.hypot(ux, uy);
  if (size < 1e-12) return [];
  const along = ((center[0] - start[0]) * ux + (center[1] - start[1]) * uy) / size;
  const off = ((center[0] - start[0]) * uy - (center[1] - start[1]) * ux) / size;
  if (Math.abs(off) > radius) return [];
  const half = Math.sqrt(radius * radius - off * off);
  return [along - half, along + half]
    .filter((s) => s > 0 && s < size)
    .map((s): XY => [start[0] + (s * ux) / size, start[1] + (s * uy) / size]);
}

function whereCirclesMeet(a: Round, b: Round): XY[] {
  const size = apart(a.center, b.center);
  if (size < 1e-9 || size > a.radius + b.radius || size < Math.abs(a.radius - b.radius)) return [];
  const along = (size * size + a.radius ** 2 - b.radius ** 2) / (2 * size);
  const half = Math.sqrt(Math.max(a.radius ** 2 - along ** 2, 0));
  const [ux, uy] = [(b.center[0] - a.center[0]) / size, (b.center[1] - a.center[1]) / size];
  return [half, -half].map((h): XY => [a.center[0] + along * ux - h * uy, a.center[1] + along * uy + h * ux]);
}

/** Where lines from a place outside touch a circle. */
function touching(from: XY, center: XY, radius: number): XY[] {
  const size = apart(from, center);
  if (size <= radius) return [];
  const turn = Math.atan2(from[1] - center[1], from[0] - center[0]);
  const half = Math.acos(radius / size);
  return [turn + half, turn - half].map((t): XY => [
    center[0] + radius * Math.cos(t),
    center[1] + radius * Math.sin(t),
  ]);
}

const clean = (value: number): number => Math.round(value * 1e6) / 1e6;

function onSegment(p: XY, a: XY, b: XY): XY | null {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const square = dx * dx + dy * dy;
  if (square < 1e-12) return null;
  const t = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square;
  return t <= 0 || t >= 1 ? null : [a[0] + t * dx, a[1] + t * dy];
}
