import { apart, type XY } from "../drawing";
import { arcAbout, arcThrough } from "../ghosts";
import type { TypedNumber } from "../../sheet/useTyped";
import { Adding } from "./adding";
import { circleThrough, has, leftOf, path, ring, turnedAbout, typedNumber } from "./shapes";
import type { Tool } from "./tool";

const ARC: Tool = {
  id: "arc",
  title: "Arc by centre",
  group: "draw",
  asks: ["its centre", "where it begins", "where it ends, counter-clockwise"],
  fields: [
    { name: "radius", title: "Radius", kind: "length", from: 1 },
    { name: "sweep", title: "Sweep", kind: "angle", from: 2 },
  ],
  make: ([c, a, b], { radius, sweep }) => {
    if (!c || !a || !b) return null;
    const r = typedNumber(radius) ?? apart(c.at, a.at);
    const out = (p: XY): XY => {
      const size = apart(p, c.at) || 1;
      return [c.at[0] + ((p[0] - c.at[0]) * r) / size, c.at[1] + ((p[1] - c.at[1]) * r) / size];
    };
    const adding = new Adding();
    const start = adding.point(a.point ? a : { ...a, at: out(a.at) });
    const end = adding.point(
      b.point ? b : has(sweep) ? { at: swept(c.at, out(a.at), sweep), way: "" } : { ...b, at: out(b.at) },
    );
    const arc = adding.curve({ type: "arc", center: adding.point(c), start, end });
    adding.size("radius", [arc], radius);
    if (!b.point) adding.size("angle", [arc], sweep);
    return adding.acts;
  },
  ghost: ([c, a], pointer, { radius, sweep }) =>
    c
      ? a
        ? arcAbout(
            c.at,
            a.at,
            has(sweep) ? swept(c.at, a.at, sweep) : pointer,
            typedNumber(radius) ?? apart(c.at, a.at),
          )
        : path(c.at, pointer)
      : "",
  reads: ([c, a], pointer): Partial<Record<string, number>> => {
    if (!c) return {};
    if (!a) return { radius: apart(c.at, pointer) };
    const turn = (p: XY) => Math.atan2(p[1] - c.at[1], p[0] - c.at[0]);
    return { radius: apart(c.at, a.at), sweep: (((turn(pointer) - turn(a.at)) * 180) / Math.PI + 720) % 360 };
  },
};

/** Where a place comes to when it is turned about a centre by a typed angle. */
const swept = (center: XY, at: XY, sweep: TypedNumber): XY =>
  turnedAbout(center, at, ((typedNumber(sweep) ?? 0) * Math.PI) / 180);

const ARC_THROUGH: Tool = {
  id: "arc3",
  title: "Arc by three",
  group: "draw",
  asks: ["where it begins", "where it ends", "a place on it"],
  make: ([a, b, m]) => {
    if (!a || !b || !m) return null;
    const center = circleThrough(a.at, b.at, m.at);
    if (!center) return [];
    const adding = new Adding();
    const [start, end] = leftOf(a.at, b.at, m.at) ? [b, a] : [a, b];
    adding.curve({ type: "arc", center: adding.place(center), start: adding.point(start), end: adding.point(end) });
    return adding.acts;
  },
  ghost: ([a, b], pointer) => (a ? (b ? arcThrough(a.at, b.at, pointer) : path(a.at, pointer)) : ""),
};

const CIRCLE: Tool = {
  id: "circle",
  title: "Circle",
  group: "draw",
  asks: ["its centre", "how large"],
  fields: [{ name: "diameter", title: "Diameter", kind: "length", from: 1 }],
  make: ([c, e], { diameter }) => {
    if (!c || !e) return null;
    const adding = new Adding();
    const typed = typedNumber(diameter);
    const radius = typed === null ? apart(c.at, e.at) : typed / 2;
    if (!(radius > 0)) return [];
    const circle = adding.curve({ type: "circle", center: adding.point(c), radius });
    if (has(diameter)) adding.hold("diameter", [circle], diameter);
    else if (e.point) adding.hold("on-curve", [e.point, circle]);
    return adding.acts;
  },
  ghost: ([c], pointer, { diameter }) => {
    const typed = typedNumber(diameter);
    return c ? ring(c.at, typed === null ? apart(c.at, pointer) : typed / 2) : "";
  },
  reads: ([c], pointer) => (c ? { diameter: 2 * apart(c.at, pointer) } : {}),
};

const ELLIPSE: Tool = {
  id: "ellipse",
  title: "Ellipse",
  group: "draw",
  asks: ["its centre", "a corner of the box round it"],
  fields: [
    { name: "width", title: "Width", kind: "length", from: 1 },
    { name: "depth", title: "Depth", kind: "length", from: 1 },
  ],
  make: ([c, e], typed) => {
    if (!c || !e) return null;
    const adding = new Adding();
    const width = typedNumber(typed["width"]) ?? 2 * Math.abs(e.at[0] - c.at[0]);
    const depth = typedNumber(typed["depth"]) ?? 2 * Math.abs(e.at[1] - c.at[1]);
    if (!(width > 0 && depth > 0)) return [];
    const ellipse = adding.curve({ type: "ellipse", center: adding.point(c), width, depth });
    adding.size("across", [ellipse], typed["width"]);
    adding.size("up", [ellipse], typed["depth"]);
    return adding.acts;
  },
  ghost: ([c], p, typed) => {
    if (!c) return "";
    const half = (name: string, axis: 0 | 1) => (typedNumber(typed[name]) ?? 2 * Math.abs(p[axis] - c.at[axis])) / 2;
    return ring(c.at, half("width", 0), half("depth", 1));
  },
  reads: ([c], p) => (c ? { width: 2 * Math.abs(p[0] - c.at[0]), depth: 2 * Math.abs(p[1] - c.at[1]) } : {}),
};

export const ROUNDS: readonly Tool[] = [ARC, ARC_THROUGH, CIRCLE, ELLIPSE];
