import { apart, pointAt, type XY } from "../drawing";
import { splineBy, splineThrough } from "../ghosts";
import type { Spot } from "../snap";
import { Adding } from "./adding";
import { bent, leaving, type Bend } from "./bend";
import { has, path, steered } from "./shapes";
import type { Tool } from "./tool";

const turned = (a: XY, b: XY): number => (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;

const LINE: Tool = {
  id: "line",
  title: "Line",
  group: "draw",
  asks: ["where it begins", "where to: by hand, or a length and an arrow key; Enter ends it"],
  fields: [
    { name: "length", title: "Length", kind: "length", from: 1 },
    { name: "angle", title: "Angle", kind: "angle", from: 1 },
  ],
  goesOn: true,
  aims: true,
  make: ([a, b], typed, drawn) => {
    if (!a || !b || (b.point !== undefined && b.point === a.point)) return null;
    const at = b.point ? b.at : steered(a.at, b.at, typed);
    const met = b.point ?? pointAt(drawn, at);
    if (met !== undefined && met !== a.point) {
      // back where something ends already: what leads there holds it
      const closing = new Adding();
      closing.curve({ type: "line", start: closing.point(a), end: met });
      return closing.acts;
    }
    const to = { ...b, at };
    const adding = new Adding();
    const line = adding.curve({ type: "line", start: adding.point(a), end: adding.point(to) });
    if (b.level && !has(typed["angle"])) adding.hold(b.level, [line]);
    if (b.touches) adding.hold("tangent", [line, b.touches]);
    adding.size("length", [line], typed["length"]);
    adding.size("angle", [line], typed["angle"]);
    return adding.acts;
  },
  ghost: ([a], pointer, typed) => (a ? path(a.at, steered(a.at, pointer, typed)) : ""),
  reads: ([a], pointer) => (a ? { length: apart(a.at, pointer), angle: turned(a.at, pointer) } : {}),
};

/** An arc that goes on from the end of a line or an arc, in its direction there. */
const BEND: Tool = {
  id: "bend",
  title: "Arc onwards",
  group: "draw",
  asks: ["an end of a line or an arc", "where to; Enter ends it"],
  fields: [
    { name: "radius", title: "Radius", kind: "length", from: 1 },
    { name: "sweep", title: "Sweep", kind: "angle", from: 1 },
  ],
  goesOn: true,
  make: ([a, b], typed, drawn) => {
    if (!a) return null;
    const from = leaving(drawn, a);
    if (!from) return [];
    if (!b || (b.point !== undefined && b.point === a.point)) return null;
    const way = bent(from, b.at, typed);
    if (!way) return [];
    const adding = new Adding();
    const center = adding.place(way.center);
    // its end is made last: the chain goes on from there
    const free = !has(typed["radius"]) && !has(typed["sweep"]);
    const end = adding.point(b.point || free ? b : { at: way.end, way: "" });
    const [start, last] = way.left ? [adding.point(a), end] : [end, adding.point(a)];
    const arc = adding.curve({ type: "arc", center, start, end: last });
    adding.hold("tangent", [from.curve, arc]);
    adding.size("radius", [arc], typed["radius"]);
    const { sweep } = typed;
    // an arc has its sweep whichever way it was drawn
    if (sweep) adding.hold("angle", [arc], way.left ? sweep : { ...sweep, text: `-(${sweep.text})` });
    return adding.acts;
  },
  ghost: ([a], pointer, typed, drawn) => {
    const from = a && leaving(drawn, a);
    const way = from && bent(from, pointer, typed);
    return way ? way.path : "";
  },
  reads: ([a], pointer, drawn): Partial<Record<string, number>> => {
    const from = a && leaving(drawn, a);
    const way: Bend | null = from ? bent(from, pointer) : null;
    return way ? { radius: way.radius, sweep: sweptBy(way, from?.at ?? pointer) } : {};
  },
};

/** How far an arc turns from where it begins, degrees: to the left above 0. */
function sweptBy({ center, end, left }: Bend, from: XY): number {
  const turn = (p: XY) => (Math.atan2(p[1] - center[1], p[0] - center[0]) * 180) / Math.PI;
  const on = (turn(end) - turn(from) + 720) % 360;
  return left ? on : on - 360;
}

function spline(type: "spline" | "poles", title: string, asks: readonly string[], least: number): Tool {
  return {
    id: type,
    title,
    group: "draw",
    asks,
    make: (picks, _, __, done) => {
      const first = picks[0];
      const last = picks.at(-1);
      const closes = type === "spline" && picks.length > 3 && first && last && apart(first.at, last.at) < 1e-9;
      if (!closes && !(done && picks.length >= least)) return null;
      const adding = new Adding();
      const kept: readonly Spot[] = closes ? picks.slice(0, -1) : picks;
      const through = kept.map((spot) => adding.point(spot));
      adding.curve(type === "spline" ? { type, through, closed: Boolean(closes) } : { type, poles: through });
      return adding.acts;
    },
    ghost: (picks, pointer) => {
      const [first, ...rest] = picks.map((p) => p.at);
      if (!first) return "";
      if (type === "poles") return splineBy([first, ...rest, pointer]);
      // a second click on the place before is none, wherever that lies
      const goesOn = apart(rest.at(-1) ?? first, pointer) > 1e-9;
      const closes = rest.length > 1 && goesOn && apart(first, pointer) < 1e-9;
      return splineThrough([first, ...rest, ...(closes ? [] : [pointer])], closes);
    },
  };
}

const POINT: Tool = {
  id: "point",
  title: "Point",
  group: "draw",
  asks: ["where it is"],
  make: ([a]) => {
    if (!a) return null;
    if (a.point) return [];
    const adding = new Adding();
    adding.point(a);
    return adding.acts;
  },
};

export const LINES: readonly Tool[] = [LINE, BEND];
export const FREE: readonly Tool[] = [
  spline("spline", "Spline", ["a place it goes through", "the next one; the first again closes it, Enter ends it"], 2),
  spline("poles", "Control spline", ["a control point", "the next one, four or more; Enter ends it"], 4),
  POINT,
];
