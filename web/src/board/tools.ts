import { apart, type Act, type XY } from "./drawing";
import { arcAbout, arcThrough, splineBy, splineThrough } from "./ghosts";
import {
  box,
  circleThrough,
  farCorner,
  has,
  leftOf,
  path,
  polygon,
  ring,
  slot,
  steered,
  typedNumber,
} from "./toolShapes";
import type { Field, Typed, TypedNumber } from "../sheet/useTyped";
import type { Spot } from "./snap";

export interface Tool {
  id: string;
  title: string;
  hint: string;
  group: "draw" | "change";
  fields?: Field[];
  /** The acts that these picks ask for, or null while more are needed. done: Enter or a double click ended it. */
  make: (picks: readonly Spot[], typed: Typed, done: boolean) => Act[] | null;
  /** Picks that the next one goes on from: a chain. */
  goesOn?: boolean;
  /** What would be drawn if the pointer were picked: a path in mm. */
  ghost?: (picks: readonly Spot[], pointer: XY, typed: Typed) => string;
}

type Added = { points: Record<string, XY>; curves: Record<string, unknown>[]; holds: Record<string, unknown>[] };

/** Gathers what is added; picks that lie on something come with the hold that keeps them there. */
class Adding {
  readonly added: Added = { points: {}, curves: [], holds: [] };
  private count = 0;

  point(spot: Spot): string {
    if (spot.point) return spot.point;
    const name = this.place(spot.at);
    if (spot.middle) this.hold("midpoint", [name, spot.middle]);
    else if (spot.on) this.hold("on-curve", [name, spot.on]);
    if (spot.also) this.hold("on-curve", [name, spot.also]);
    return name;
  }

  place(at: XY): string {
    const name = `$p${++this.count}`;
    this.added.points[name] = at;
    return name;
  }

  curve(fields: Record<string, unknown>): string {
    const id = `$c${++this.count}`;
    this.added.curves.push({ ...fields, id });
    return id;
  }

  hold(type: string, of: string[], value?: TypedNumber): void {
    this.added.holds.push(value === undefined ? { type, of } : { type, of, value: value.text });
  }

  get acts(): Act[] {
    return [{ act: "add", ...this.added } as Act];
  }
}

const SIZE: Field[] = [
  { name: "width", title: "Width", kind: "length" },
  { name: "depth", title: "Depth", kind: "length" },
];

export const TOOLS: Tool[] = [
  {
    id: "line",
    title: "Line",
    group: "draw",
    hint: "Click from point to point. Type a length or an angle to hold it. Enter or Esc ends the chain.",
    fields: [
      { name: "length", title: "Length", kind: "length" },
      { name: "angle", title: "Angle", kind: "angle" },
    ],
    goesOn: true,
    make: ([a, b], typed) => {
      if (!a || !b || (b.point !== undefined && b.point === a.point)) return null;
      const to = b.point ? b : { ...b, at: steered(a.at, b.at, typed) };
      const adding = new Adding();
      const line = adding.curve({ type: "line", start: adding.point(a), end: adding.point(to) });
      if (b.level && !has(typed["angle"])) adding.hold(b.level, [line]);
      if (b.touches) adding.hold("tangent", [line, b.touches]);
      if (has(typed["length"])) adding.hold("length", [line], typed["length"]);
      if (has(typed["angle"])) adding.hold("angle", [line], typed["angle"]);
      return adding.acts;
    },
    ghost: ([a], pointer, typed) => (a ? path(a.at, steered(a.at, pointer, typed)) : ""),
  },
  {
    id: "arc",
    title: "Arc about a centre",
    group: "draw",
    hint: "Click the centre, where the arc begins, and where it ends. It runs counter-clockwise.",
    fields: [{ name: "radius", title: "Radius", kind: "length" }],
    make: ([c, a, b], { radius }) => {
      if (!c || !a || !b) return null;
      const r = typedNumber(radius) ?? apart(c.at, a.at);
      const out = (p: XY): XY => {
        const size = apart(p, c.at) || 1;
        return [c.at[0] + ((p[0] - c.at[0]) * r) / size, c.at[1] + ((p[1] - c.at[1]) * r) / size];
      };
      const adding = new Adding();
      const start = adding.point(a.point ? a : { ...a, at: out(a.at) });
      const arc = adding.curve({
        type: "arc",
        center: adding.point(c),
        start,
        end: adding.point(b.point ? b : { ...b, at: out(b.at) }),
      });
      if (has(radius)) adding.hold("radius", [arc], radius);
      return adding.acts;
    },
    ghost: ([c, a], pointer, { radius }) =>
      c ? (a ? arcAbout(c.at, a.at, pointer, typedNumber(radius) ?? apart(c.at, a.at)) : path(c.at, pointer)) : "",
  },
  {
    id: "arc3",
    title: "Arc through three",
    group: "draw",
    hint: "Click both ends, then a place on the arc between them.",
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
  },
  {
    id: "circle",
    title: "Circle",
    group: "draw",
    hint: "Click the centre, then the size. Type a diameter to hold it.",
    fields: [{ name: "diameter", title: "Diameter", kind: "length" }],
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
  },
  {
    id: "ellipse",
    title: "Ellipse",
    group: "draw",
    hint: "Click the centre, then a corner of the box round it.",
    fields: SIZE,
    make: ([c, e], typed) => {
      if (!c || !e) return null;
      const adding = new Adding();
      const width = typedNumber(typed["width"]) ?? 2 * Math.abs(e.at[0] - c.at[0]);
      const depth = typedNumber(typed["depth"]) ?? 2 * Math.abs(e.at[1] - c.at[1]);
      if (!(width > 0 && depth > 0)) return [];
      adding.curve({ type: "ellipse", center: adding.point(c), width, depth });
      return adding.acts;
    },
    ghost: ([c], p, typed) => {
      if (!c) return "";
      const half = (name: string, axis: 0 | 1) => (typedNumber(typed[name]) ?? 2 * Math.abs(p[axis] - c.at[axis])) / 2;
      return ring(c.at, half("width", 0), half("depth", 1));
    },
  },
  {
    id: "rectangle",
    title: "Rectangle",
    group: "draw",
    hint: "Click two opposite corners. Type width and depth to hold them.",
    fields: SIZE,
    make: ([a, b], typed) => {
      if (!a || !b) return null;
      const far = b.point ? b.at : farCorner(a.at, b.at, typed);
      if (Math.abs(far[0] - a.at[0]) < 1e-6 || Math.abs(far[1] - a.at[1]) < 1e-6) return [];
      const adding = new Adding();
      const places = box(a.at, far);
      const corners = [
        adding.point(a),
        adding.place(places[1]),
        b.point ? adding.point(b) : adding.place(far),
        adding.place(places[3]),
      ];
      const sides = corners.map((start, i) =>
        adding.curve({ type: "line", start, end: corners[(i + 1) % 4] ?? start }),
      );
      sides.forEach((side, i) => adding.hold(i % 2 ? "vertical" : "horizontal", [side]));
      if (has(typed["width"])) adding.hold("length", [sides[0] ?? ""], typed["width"]);
      if (has(typed["depth"])) adding.hold("length", [sides[1] ?? ""], typed["depth"]);
      return adding.acts;
    },
    ghost: ([a], pointer, typed) => (a ? `${path(...box(a.at, farCorner(a.at, pointer, typed)))}Z` : ""),
  },
  {
    id: "polygon",
    title: "Polygon",
    group: "draw",
    hint: "Click the centre, then a corner. Type how many sides.",
    fields: [
      { name: "sides", title: "Sides", kind: "count" },
      { name: "diameter", title: "Across corners", kind: "length" },
    ],
    make: ([c, e], typed) => {
      if (!c || !e) return null;
      const { radius, places } = polygon(c.at, e.at, typed);
      if (!(radius > 0)) return [];
      const count = places.length;
      const adding = new Adding();
      const center = adding.point(c);
      const corners = places.map((at) => adding.place(at));
      const sides = corners.map((start, i) =>
        adding.curve({ type: "line", start, end: corners[(i + 1) % count] ?? start }),
      );
      const round = adding.curve({ type: "circle", center, radius, construction: true });
      corners.forEach((corner) => adding.hold("on-curve", [corner, round]));
      // the last of them follows from the others
      sides.slice(1, -1).forEach((side) => adding.hold("equal", [sides[0] ?? "", side]));
      adding.hold("equal", [sides[0] ?? "", sides.at(-1) ?? ""]);
      if (has(typed["diameter"])) adding.hold("diameter", [round], typed["diameter"]);
      return adding.acts;
    },
    ghost: ([c], pointer, typed) => (c ? `${path(...polygon(c.at, pointer, typed).places)}Z` : ""),
  },
  {
    id: "slot",
    title: "Slot",
    group: "draw",
    hint: "Click both centres, then the width. Type them to hold them.",
    fields: [
      { name: "length", title: "Between centres", kind: "length" },
      { name: "width", title: "Width", kind: "length" },
    ],
    make: ([a, b, w], typed) => {
      if (!a || !b || !w) return null;
      const far = b.point ? b.at : steered(a.at, b.at, typed["length"] ? { length: typed["length"] } : {});
      const { corners } = slot(a.at, far, w.at, typed["width"]);
      const adding = new Adding();
      const [left, right] = [adding.point(a), b.point ? adding.point(b) : adding.place(far)];
      const [p, q, r, s] = corners.map((at) => adding.place(at)) as [string, string, string, string];
      const sides = [
        adding.curve({ type: "line", start: p, end: q }),
        adding.curve({ type: "line", start: r, end: s }),
      ];
      const arcs = [
        adding.curve({ type: "arc", center: right, start: q, end: r }),
        adding.curve({ type: "arc", center: left, start: s, end: p }),
      ];
      for (const arc of arcs) for (const side of sides) adding.hold("tangent", [side, arc]);
      adding.hold("equal", arcs);
      if (b.level) adding.hold(b.level, [left, right]);
      if (has(typed["length"])) adding.hold("distance", [left, right], typed["length"]);
      if (has(typed["width"])) adding.hold("distance", [sides[1] ?? "", sides[0] ?? ""], typed["width"]);
      return adding.acts;
    },
    ghost: ([a, b], pointer, typed) => {
      if (!a) return "";
      if (!b) return path(a.at, pointer);
      const { r, corners } = slot(a.at, b.at, pointer, typed["width"]);
      const [p, q, s, t] = corners;
      return `${path(p, q)}A${r} ${r} 0 0 1 ${s[0]} ${s[1]}L${t[0]} ${t[1]}A${r} ${r} 0 0 1 ${p[0]} ${p[1]}Z`;
    },
  },
  spline("spline", "Spline", "Click the points it goes through; the first again closes it. Enter ends it open.", 2),
  spline("poles", "Spline by controls", "Click four control points or more; Enter ends it.", 4),
  {
    id: "point",
    title: "Point",
    group: "draw",
    hint: "Click where it should be.",
    make: ([a]) => {
      if (!a) return null;
      if (a.point) return [];
      const adding = new Adding();
      adding.point(a);
      return adding.acts;
    },
  },
  {
    id: "trace",
    title: "Trace",
    group: "change",
    hint: "Click an edge of a body made before this section. The trace follows the body.",
    make: ([a]) => {
      if (!a) return null;
      return a.trace ? [{ act: "add", points: {}, curves: [{ type: "trace", of: a.trace, id: "$t" }], holds: [] }] : [];
    },
  },
  onCurve("trim", "Trim", "Click the part of a curve that should go.", (curve, at) => ({ act: "trim", curve, at })),
  onCurve("extend", "Extend", "Click a line or an arc near the end that should go on.", (curve, at) => ({
    act: "extend",
    curve,
    at,
  })),
  {
    ...onCurve(
      "split",
      "Split",
      "Click where a curve should part, or type into how many equal parts.",
      (curve, at) => ({
        act: "split",
        curve,
        at,
      }),
    ),
    fields: [{ name: "parts", title: "Equal parts", kind: "count" }],
    make: ([a], { parts }) => {
      if (!a) return null;
      const count = typedNumber(parts);
      const curve = a.on ?? a.middle;
      if (!curve) return [];
      return [{ act: "split", curve, at: count === null ? [...a.at] : null, parts: count ?? 2 } as Act];
    },
  },
  atCorner("fillet", "Fillet", "Type a radius, then click corners.", "Radius", (point, radius) => ({
    act: "fillet",
    point,
    radius,
  })),
  atCorner("chamfer", "Chamfer", "Type a length, then click corners.", "Length", (point, length) => ({
    act: "chamfer",
    point,
    length,
  })),
];

/** Two places on a reference picture, and how far apart they are. */
export const SCALE_PICTURE: Tool = {
  id: "scale-picture",
  title: "Scale the picture",
  group: "change",
  hint: "Click two places on the picture, then type how far apart they are and press Enter.",
  fields: [{ name: "distance", title: "Distance", kind: "length" }],
  make: () => null,
  ghost: ([a, b], pointer) => (a ? path(a.at, b?.at ?? pointer) : ""),
};

function spline(type: "spline" | "poles", title: string, hint: string, least: number): Tool {
  return {
    id: type,
    title,
    group: "draw",
    hint,
    make: (picks, _, done) => {
      const first = picks[0];
      const last = picks.at(-1);
      const closes =
        type === "spline" && picks.length > 3 && first && last && picks.length > 1 && apart(first.at, last.at) < 1e-9;
      if (!closes && !(done && picks.length >= least)) return null;
      const adding = new Adding();
      const kept = closes ? picks.slice(0, -1) : picks;
      const through = kept.map((spot) => adding.point(spot));
      adding.curve(type === "spline" ? { type, through, closed: Boolean(closes) } : { type, poles: through });
      return adding.acts;
    },
    ghost: (picks, pointer) => {
      const [first, ...rest] = picks.map((p) => p.at);
      if (!first) return "";
      if (type === "poles") return splineBy([first, ...rest, pointer]);
      const closes = rest.length > 1 && apart(first, pointer) < 1e-9;
      return splineThrough([first, ...rest, ...(closes ? [] : [pointer])], closes);
    },
  };
}

function onCurve(id: string, title: string, hint: string, act: (curve: string, at: [number, number]) => unknown): Tool {
  return {
    id,
    title,
    hint,
    group: "change",
    make: ([a]) => {
      if (!a) return null;
      const curve = a.on ?? a.middle;
      return curve ? [act(curve, [a.at[0], a.at[1]]) as Act] : [];
    },
  };
}

function atCorner(
  id: string,
  title: string,
  hint: string,
  field: string,
  act: (point: string, size: string) => unknown,
): Tool {
  return {
    id,
    title,
    hint,
    group: "change",
    fields: [{ name: "size", title: field, kind: "length" }],
    make: ([a], { size }) => {
      if (!a) return null;
      return a.point && has(size) ? [act(a.point, size.text) as Act] : [];
    },
  };
}
