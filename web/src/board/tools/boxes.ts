import { apart, type XY } from "../drawing";
import type { Spot } from "../snap";
import type { Typed } from "../../sheet/useTyped";
import { Adding } from "./adding";
import { box, farCorner, has, path, polygon, rounded, slot, steered, typedNumber } from "./shapes";
import type { Tool, ToolField } from "./tool";

const SIZE: ToolField[] = [
  { name: "width", title: "Width", kind: "length", from: 1 },
  { name: "depth", title: "Depth", kind: "length", from: 1 },
];

const across = (a: XY, b: XY, times = 1) => ({
  width: times * Math.abs(b[0] - a[0]),
  depth: times * Math.abs(b[1] - a[1]),
});

const flat = ({ width, depth }: { width: number; depth: number }): boolean => width < 1e-6 || depth < 1e-6;

/** Sides of a box, level and upright in turn. */
function levelled(adding: Adding, sides: readonly string[]): void {
  sides.forEach((side, i) => adding.hold(i % 2 ? "vertical" : "horizontal", [side]));
}

const RECTANGLE: Tool = {
  id: "rectangle",
  title: "Rectangle",
  group: "draw",
  asks: ["a corner", "the corner across"],
  fields: SIZE,
  make: ([a, b], typed) => {
    if (!a || !b) return null;
    const far = b.point ? b.at : farCorner(a.at, b.at, typed);
    if (flat(across(a.at, far))) return [];
    const adding = new Adding();
    const places = box(a.at, far);
    const sides = adding.ring([
      adding.point(a),
      adding.place(places[1]),
      b.point ? adding.point(b) : adding.place(far),
      adding.place(places[3]),
    ]);
    levelled(adding, sides);
    adding.size("length", [sides[0] ?? ""], typed["width"]);
    adding.size("length", [sides[1] ?? ""], typed["depth"]);
    return adding.acts;
  },
  ghost: ([a], pointer, typed) => (a ? `${path(...box(a.at, farCorner(a.at, pointer, typed)))}Z` : ""),
  reads: ([a], pointer) => (a ? across(a.at, pointer) : {}),
};

/** The corner of a box about its middle that a place is meant as. */
const halfOf = (center: XY, pointer: XY, typed: Typed): XY => {
  const half = (name: "width" | "depth", axis: 0 | 1) => {
    const size = typedNumber(typed[name]);
    return size === null ? Math.abs(pointer[axis] - center[axis]) : size / 2;
  };
  return [center[0] + half("width", 0), center[1] + half("depth", 1)];
};

const opposite = (center: XY, corner: XY): XY => [2 * center[0] - corner[0], 2 * center[1] - corner[1]];

const CENTRED: Tool = {
  id: "centred",
  title: "Centred box",
  group: "draw",
  asks: ["its middle", "a corner"],
  fields: SIZE,
  make: ([c, e], typed) => {
    if (!c || !e) return null;
    const far = halfOf(c.at, e.at, typed);
    const near = opposite(c.at, far);
    if (flat(across(near, far))) return [];
    const adding = new Adding();
    const corners = box(near, far).map((at) => adding.place(at));
    const sides = adding.ring(corners);
    levelled(adding, sides);
    const diagonal = adding.curve({ type: "line", start: corners[0], end: corners[2], construction: true });
    adding.hold("midpoint", [adding.point(c), diagonal]);
    adding.size("length", [sides[0] ?? ""], typed["width"]);
    adding.size("length", [sides[1] ?? ""], typed["depth"]);
    return adding.acts;
  },
  ghost: ([c], pointer, typed) => {
    if (!c) return "";
    const far = halfOf(c.at, pointer, typed);
    return `${path(...box(opposite(c.at, far), far))}Z`;
  },
  reads: ([c], pointer) => (c ? across(c.at, pointer, 2) : {}),
};

/** A rounded rectangle as its picks and numbers have it: its low and high corner, and the radius that still has room. */
function roundedBy(picks: readonly Spot[], pointer: XY, typed: Typed): { low: XY; high: XY; radius: number } | null {
  const [a, b] = picks;
  if (!a) return null;
  const far = farCorner(a.at, b?.at ?? pointer, typed);
  const low: XY = [Math.min(a.at[0], far[0]), Math.min(a.at[1], far[1])];
  const high: XY = [Math.max(a.at[0], far[0]), Math.max(a.at[1], far[1])];
  const room = Math.min(high[0] - low[0], high[1] - low[1]) / 2;
  const typedRadius = typedNumber(typed["radius"]);
  // from the corner that is nearest to the hand, as far in as it is
  const inside = (axis: 0 | 1) => Math.max(Math.min(pointer[axis] - low[axis], high[axis] - pointer[axis]), 0);
  const wanted = typedRadius ?? (b ? Math.max(inside(0), inside(1)) : room / 4);
  return { low, high, radius: Math.min(Math.max(wanted, room / 50), room * 0.98) };
}

const ROUNDED: Tool = {
  id: "rounded",
  title: "Rounded box",
  group: "draw",
  asks: ["a corner of the box", "the corner across", "how far in the corners are rounded"],
  fields: [...SIZE, { name: "radius", title: "Radius", kind: "length", from: 2 }],
  make: (picks, typed) => {
    const [a, b, c] = picks;
    if (!a || !b || (!c && !has(typed["radius"]))) return null;
    const made = roundedBy(picks, (c ?? b).at, typed);
    if (!made || flat(across(made.low, made.high))) return [];
    const adding = new Adding();
    // a corner that was met or typed is where the sides on either side of it meet
    const corner = a.point || a.on || a.middle || a.fixed ? adding.point(a) : undefined;
    const { ends, centers } = rounded(made.low, made.high, made.radius);
    const points = ends.map((at) => adding.place(at));
    const at = (i: number) => points[i % points.length] ?? "";
    const sides = [0, 1, 2, 3].map((i) => adding.curve({ type: "line", start: at(2 * i), end: at(2 * i + 1) }));
    const arcs = centers.map((center, i) =>
      adding.curve({ type: "arc", center: adding.place(center), start: at(2 * i + 1), end: at(2 * i + 2) }),
    );
    levelled(adding, sides);
    arcs.forEach((arc, i) => {
      adding.hold("tangent", [sides[i] ?? "", arc]);
      adding.hold("tangent", [sides[(i + 1) % 4] ?? "", arc]);
      if (i) adding.hold("equal", [arcs[0] ?? "", arc]);
    });
    adding.size("distance", [sides[1] ?? "", sides[3] ?? ""], typed["width"]);
    adding.size("distance", [sides[0] ?? "", sides[2] ?? ""], typed["depth"]);
    if (corner)
      for (const side of [a.at[1] > made.low[1] ? 2 : 0, a.at[0] > made.low[0] ? 1 : 3])
        adding.hold("on-curve", [corner, sides[side] ?? ""]);
    adding.size("radius", [arcs[0] ?? ""], typed["radius"]);
    return adding.acts;
  },
  ghost: (picks, pointer, typed) => {
    const made = roundedBy(picks, pointer, typed);
    if (!made || flat(across(made.low, made.high))) return "";
    const { radius } = made;
    const { ends } = rounded(made.low, made.high, radius);
    const at = (i: number) => (ends[i % ends.length] ?? made.low).join(" ");
    const pieces = [0, 1, 2, 3].map((i) => `L${at(2 * i + 1)}A${radius} ${radius} 0 0 1 ${at(2 * i + 2)}`);
    return `M${at(0)}${pieces.join("")}Z`;
  },
  reads: (picks, pointer) => {
    const made = roundedBy(picks, pointer, {});
    return made ? { ...across(made.low, made.high), ...(picks.length > 1 ? { radius: made.radius } : {}) } : {};
  },
};

const POLYGON: Tool = {
  id: "polygon",
  title: "Polygon",
  group: "draw",
  asks: ["its centre", "a corner"],
  fields: [
    { name: "sides", title: "Sides", kind: "count", from: 0 },
    { name: "diameter", title: "Across corners", kind: "length", from: 1 },
  ],
  make: ([c, e], typed) => {
    if (!c || !e) return null;
    const { radius, places } = polygon(c.at, e.at, typed);
    if (!(radius > 0)) return [];
    const adding = new Adding();
    const center = adding.point(c);
    const corners = places.map((at) => adding.place(at));
    const sides = adding.ring(corners);
    const round = adding.curve({ type: "circle", center, radius, construction: true });
    corners.forEach((corner) => adding.hold("on-curve", [corner, round]));
    // the last of them follows from the others
    sides.slice(1, -1).forEach((side) => adding.hold("equal", [sides[0] ?? "", side]));
    adding.hold("equal", [sides[0] ?? "", sides.at(-1) ?? ""]);
    adding.size("diameter", [round], typed["diameter"]);
    return adding.acts;
  },
  ghost: ([c], pointer, typed) => (c ? `${path(...polygon(c.at, pointer, typed).places)}Z` : ""),
  reads: ([c], pointer) => ({ sides: 6, ...(c ? { diameter: 2 * apart(c.at, pointer) } : {}) }),
};

const SLOT: Tool = {
  id: "slot",
  title: "Slot",
  group: "draw",
  asks: ["the centre of one end", "the centre of the other: by hand, or how far and an arrow key", "how wide"],
  aims: true,
  fields: [
    { name: "length", title: "Between centres", kind: "length", from: 1 },
    { name: "width", title: "Width", kind: "length", from: 2 },
  ],
  make: ([a, b, w], typed) => {
    if (!a || !b || !w) return null;
    const far = b.point ? b.at : steered(a.at, b.at, typed["length"] ? { length: typed["length"] } : {});
    const { corners } = slot(a.at, far, w.at, typed["width"]);
    const adding = new Adding();
    const [left, right] = [adding.point(a), b.point ? adding.point(b) : adding.place(far)];
    const [p, q, r, s] = corners.map((at) => adding.place(at)) as [string, string, string, string];
    const sides = [adding.curve({ type: "line", start: p, end: q }), adding.curve({ type: "line", start: r, end: s })];
    const arcs = [
      adding.curve({ type: "arc", center: right, start: q, end: r }),
      adding.curve({ type: "arc", center: left, start: s, end: p }),
    ];
    for (const arc of arcs) for (const side of sides) adding.hold("tangent", [side, arc]);
    adding.hold("equal", arcs);
    if (b.level) adding.hold(b.level, [left, right]);
    if (b.fixed && !b.point) adding.hold("fixed", [right]);
    adding.size("distance", [left, right], typed["length"]);
    adding.size("distance", [sides[1] ?? "", sides[0] ?? ""], typed["width"]);
    return adding.acts;
  },
  ghost: ([a, b], pointer, typed) => {
    if (!a) return "";
    if (!b) return path(a.at, pointer);
    const { r, corners } = slot(a.at, b.at, pointer, typed["width"]);
    const [p, q, s, t] = corners;
    return `${path(p, q)}A${r} ${r} 0 0 1 ${s[0]} ${s[1]}L${t[0]} ${t[1]}A${r} ${r} 0 0 1 ${p[0]} ${p[1]}Z`;
  },
  reads: ([a, b], pointer): Partial<Record<string, number>> => {
    if (!a) return {};
    if (!b) return { length: apart(a.at, pointer) };
    return { length: apart(a.at, b.at), width: 2 * slot(a.at, b.at, pointer, undefined).r };
  },
};

export const BOXES: readonly Tool[] = [RECTANGLE, CENTRED, ROUNDED, POLYGON, SLOT];
