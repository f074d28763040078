import type { Act } from "../drawing";
import { chainOf } from "../gathered";
import { has, path, typedNumber } from "./shapes";
import type { Tool } from "./tool";

const TRACE: Tool = {
  id: "trace",
  title: "Trace",
  group: "change",
  asks: ["an edge of a body made before, its outline, or where this plane cuts it; the trace follows"],
  make: ([a]) => {
    if (!a) return null;
    return a.trace ? [{ act: "add", points: {}, curves: [{ type: "trace", of: a.trace, id: "$t" }], holds: [] }] : [];
  },
};

const SPLIT: Tool = {
  ...onCurve("split", "Split", "where a curve is cut, or into how many equal pieces", (curve, at) => ({
    act: "split",
    curve,
    at,
  })),
  fields: [{ name: "parts", title: "Equal pieces", kind: "count", from: 0 }],
  make: ([a], { parts }) => {
    if (!a) return null;
    const count = typedNumber(parts);
    const curve = a.on ?? a.middle;
    if (!curve) return [];
    return [{ act: "split", curve, at: count === null ? [...a.at] : null, parts: count ?? 2 } as Act];
  },
};

const DIVIDE: Tool = {
  id: "divide",
  title: "Equal parts",
  group: "change",
  asks: ["a line, an arc or an open spline: points part it, and go on doing so"],
  fields: [{ name: "parts", title: "Parts", kind: "count", from: 0 }],
  make: ([a], { parts }) => {
    if (!a) return null;
    const curve = a.on ?? a.middle;
    return curve ? [{ act: "divide", curve, parts: Math.round(typedNumber(parts) ?? 2) }] : [];
  },
};

/** Two places on a reference picture, and how far apart they are. */
export const SCALE_PICTURE: Tool = {
  id: "scale-picture",
  title: "Scale the picture",
  group: "change",
  asks: ["a place on the picture", "another one", "type how far apart they are; Enter"],
  fields: [{ name: "distance", title: "Distance", kind: "length", from: 0 }],
  make: () => null,
  ghost: ([a, b], pointer) => (a ? path(a.at, b?.at ?? pointer) : ""),
};

function onCurve(id: string, title: string, asks: string, act: (curve: string, at: [number, number]) => unknown): Tool {
  return {
    id,
    title,
    asks: [asks],
    group: "change",
    make: ([a]) => {
      if (!a) return null;
      const curve = a.on ?? a.middle;
      return curve ? [act(curve, [a.at[0], a.at[1]]) as Act] : [];
    },
  };
}

function atCorner(id: string, title: string, field: string, act: (point: string, size: string) => unknown): Tool {
  return {
    id,
    title,
    asks: ["a corner; Enter takes those that are picked"],
    corners: true,
    group: "change",
    fields: [{ name: "size", title: field, kind: "length", from: 0 }],
    make: ([a], { size }) => {
      if (!a) return null;
      return a.point && has(size) ? [act(a.point, size.text) as Act] : [];
    },
  };
}

const OFFSET: Tool = {
  id: "offset",
  title: "Offset",
  group: "change",
  asks: ["pull it out of a curve, or type how far and click one; below 0 it goes inwards"],
  fields: [{ name: "distance", title: "Distance", kind: "length", from: 0 }],
  make: ([a], { distance }, drawn) => {
    if (!a) return null;
    const curve = a.on ?? a.middle;
    return curve && has(distance) ? [{ act: "offset", curves: chainOf(drawn, curve), distance: distance.text }] : [];
  },
};

export const CHANGES: readonly Tool[] = [
  TRACE,
  OFFSET,
  onCurve("trim", "Trim", "the part of a curve that goes", (curve, at) => ({ act: "trim", curve, at })),
  onCurve("extend", "Extend", "a line or an arc, near the end that goes on", (curve, at) => ({
    act: "extend",
    curve,
    at,
  })),
  SPLIT,
  DIVIDE,
  atCorner("fillet", "Fillet", "Radius", (point, radius) => ({ act: "fillet", point, radius })),
  atCorner("chamfer", "Chamfer", "Length", (point, length) => ({ act: "chamfer", point, length })),
];
