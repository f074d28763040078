import { apart, pointsOf, type Act, type Drawn, type XY } from "./drawing";

/** Where a rail passes. */
export interface Passed {
  id: string;
  at: XY;
}

/** A place that is pointed at. point, curve: what it lies on. way: why it is just there, in a word. */
export interface Spot {
  at: XY;
  point?: string;
  /** A curve whose middle it is, or on which it lies. */
  middle?: string;
  on?: string;
  /** Where two curves cross: the other one. */
  also?: string;
  /** Typed, across and up, or the origin: it stays there. */
  fixed?: boolean;
  /** A line from the place before touches the curve here. */
  touches?: string;
  level?: "horizontal" | "vertical";
  way: string;
  /** A rail passes here. */
  passed?: Passed;
  /** An edge or an outline of a body in the underlay. */
  trace?: { step: string; part: string; hint?: readonly [number, number, number] };
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
  /** Places of the underlay, and lines of it, each with what it is. */
  under?: readonly { at: XY; way: string; passed?: Passed }[];
  lines?: readonly { points: readonly XY[]; way: string }[];
}

/** The place that is meant near the pointer: points first, then the origin, middles, curves, the underlay, level lines, the grid. */
export function snap(pointer: XY, drawn: Drawn, { near, grid, from, without, under = [], lines = [] }: Options): Spot {
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
  offer({ at: [0, 0], fixed: true, way: "origin" }, near * 0.25);
  for (const met of under) offer(met, near * 0.2);
  // what only lies under the drawing is met from nearer by
  for (const { points, way } of lines)
    points.slice(1).forEach((end, i) => {
      const foot = onSegment(pointer, points[i] ?? end, end);
      if (foot) offer({ at: foot, way }, -near * 0.4);
    });
  for (const { id, start, end } of straights(drawn, without)) {
    offer({ at: [(start[0] + end[0]) / 2, (start[1] + end[1]) / 2], middle: id, way: "middle" }, near * 0.3);
    const foot = onSegment(pointer, start, end);
    if (foot) offer({ at: foot, on: id, way: "on the line" });
  }
  for (const { id, center, radius, whole, holds } of rounds(drawn, without)) {
    const size = apart(pointer, center);
    if (size < 1e-9) continue;
    const at: XY = [
      center[0] + ((pointer[0] - center[0]) * radius) / size,
      center[1] + ((pointer[1] - center[1]) * radius) / size,
    ];
    if (holds(at)) offer({ at, on: id, way: whole ? "on the circle" : "on the arc" });
  }
  const still = new Set(left(drawn, without).map((c) => c.id));
  for (const { at, of } of drawn.now?.crossings ?? []) {
    const [on, also] = of;
    if (still.has(on) && still.has(also)) offer({ at, on, also, way: "crossing" }, near * 0.35);
  }
  if (from)
    for (const { id, center, radius, holds } of rounds(drawn, without))
      for (const at of touching(from, center, radius))
        if (holds(at)) offer({ at, on: id, touches: id, way: "tangent" }, near * 0.3);
  if (best) return best;
  const onGrid = (value: number) => clean(grid ? Math.round(value / grid) * grid : value);
  const axis = onAxis(pointer, from, near, onGrid);
  if (axis) return axis;
  if (from) {
    const [dx, dy] = [Math.abs(pointer[0] - from[0]), Math.abs(pointer[1] - from[1])];
    if (dy < near && dx > near) return { at: [onGrid(pointer[0]), from[1]], level: "horizontal", way: "horizontal" };
    if (dx < near && dy > near) return { at: [from[0], onGrid(pointer[1])], level: "vertical", way: "vertical" };
  }
  return { at: [onGrid(pointer[0]), onGrid(pointer[1])], way: grid ? "grid" : "" };
}

/** A place on an axis that is near; level with the place before where that crosses it. */
function onAxis([x, y]: XY, from: XY | undefined, near: number, onGrid: (value: number) => number): Spot | null {
  const close = near * ON_AXIS;
  if (Math.abs(y) < close && Math.abs(x) > near) {
    const upright = from && Math.abs(from[1]) > near && Math.abs(x - from[0]) < near;
    return {
      at: [upright ? from[0] : onGrid(x), 0],
      on: "x-axis",
      way: "on the x axis",
      ...(upright ? { level: "vertical" } : {}),
    };
  }
  if (Math.abs(x) < close && Math.abs(y) > near) {
    const level = from && Math.abs(from[0]) > near && Math.abs(y - from[1]) < near;
    return {
      at: [0, level ? from[1] : onGrid(y)],
      on: "y-axis",
      way: "on the y axis",
      ...(level ? { level: "horizontal" } : {}),
    };
  }
  return null;
}

/** What holds a point where it is let go. */
export function joins(drawn: Drawn, point: string, spot: Spot): Act[] {
  const held = (type: string, of: string) =>
    drawn.holds.some((hold) => hold.type === type && hold.of[0] === point && hold.of[1] === of);
  const hold = (type: "midpoint" | "on-curve", of: string | undefined): Act[] =>
    of === undefined || held(type, of) ? [] : [{ act: "hold", type, of: [point, of] }];
  if (spot.fixed)
    return drawn.holds.some((hold) => hold.type === "fixed" && hold.of[0] === point)
      ? []
      : [{ act: "hold", type: "fixed", of: [point] }];
  if (spot.point === undefined && spot.passed) return onRail(drawn, point, spot.passed);
  if (spot.point === undefined)
    return spot.middle ? hold("midpoint", spot.middle) : [...hold("on-curve", spot.on), ...hold("on-curve", spot.also)];
  const there = spot.point;
  // both ends of one curve stay two
  const one = drawn.curves.some((curve) => [point, there].every((p) => pointsOf(curve).includes(p)));
  return one ? [] : [{ act: "hold", type: "coincident", of: [there, point] }];
}

/** What holds a point where a rail passes. */
export function onRail({ holds }: Drawn, point: string, { id, at }: Passed): Act[] {
  const held = holds.some(({ type, of, rail }) => type === "passes" && of[0] === point && rail?.step === id);
  return held ? [] : [{ act: "hold", type: "passes", of: [point], rail: { step: id }, at: [at[0], at[1]] }];
}

/** The rails that acts hold points to. */
export function railsIn(acts: readonly Act[]): string[] {
  const holds: readonly { [field: string]: unknown; rail?: unknown }[] = acts.flatMap((act) =>
    act.act === "hold" ? [{ rail: act.rail }] : act.act === "add" ? (act.holds ?? []) : [],
  );
  const found = holds.flatMap(({ rail }) => (rail as { step: string } | null | undefined)?.step ?? []);
  return [...new Set(found)];
}

/** How much nearer than to anything else the hand has to be to an axis: it goes right through the drawing. */
const ON_AXIS = 0.6;

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

const left = (drawn: Drawn, without: Without) => drawn.curves.filter((c) => !pointsOf(c).some((p) => without?.has(p)));

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
