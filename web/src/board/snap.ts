import { apart, type Drawn, type XY } from "./drawing";

/** A place that is pointed at. point, curve: what it lies on. way: why it is just there, in a word. */
export interface Spot {
  at: XY;
  point?: string;
  /** A curve whose middle it is, or on which it lies. */
  middle?: string;
  on?: string;
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
  for (const curve of drawn.curves) {
    if (without && [curve.start, curve.end, curve.center].some((p) => p !== undefined && without.has(p))) continue;
    const start = drawn.points[curve.start ?? ""];
    const end = drawn.points[curve.end ?? ""];
    const center = drawn.points[curve.center ?? ""];
    if (curve.type === "line" && start && end) {
      offer({ at: [(start[0] + end[0]) / 2, (start[1] + end[1]) / 2], middle: curve.id, way: "middle" }, near * 0.3);
      const foot = onSegment(pointer, start, end);
      if (foot) offer({ at: foot, on: curve.id, way: "on the line" });
    }
    const radius =
      curve.type === "circle" ? curve.radius : curve.type === "arc" && start && center ? apart(start, center) : 0;
    if (center && radius) {
      const size = apart(pointer, center);
      if (size > 1e-9)
        offer({
          at: [
            center[0] + ((pointer[0] - center[0]) * radius) / size,
            center[1] + ((pointer[1] - center[1]) * radius) / size,
          ],
          on: curve.id,
          way: curve.type === "circle" ? "on the circle" : "on the arc",
        });
    }
  }
  if (best) return best;
  const onGrid = (value: number) => (grid ? Math.round(value / grid) * grid : value);
  if (from) {
    const [dx, dy] = [Math.abs(pointer[0] - from[0]), Math.abs(pointer[1] - from[1])];
    if (dy < near && dx > near) return { at: [onGrid(pointer[0]), from[1]], level: "horizontal", way: "horizontal" };
    if (dx < near && dy > near) return { at: [from[0], onGrid(pointer[1])], level: "vertical", way: "vertical" };
  }
  return { at: [clean(onGrid(pointer[0])), clean(onGrid(pointer[1]))], way: grid ? "grid" : "" };
}

const clean = (value: number): number => Math.round(value * 1e6) / 1e6;

function onSegment(p: XY, a: XY, b: XY): XY | null {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const square = dx * dx + dy * dy;
  if (square < 1e-12) return null;
  const t = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square;
  return t <= 0 || t >= 1 ? null : [a[0] + t * dx, a[1] + t * dy];
}
