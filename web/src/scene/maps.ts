import { BufferAttribute, Triangle, Vector3, type BufferGeometry, type Face } from "three";
import { BEND, fullBend, withBends } from "./bends";
import { withLean } from "./lean";
import { withThickness } from "./thickness";

/** What colours of the skin can tell. */
export type MapMode = "bends" | "lean" | "thickness";
/** The attribute of a mesh that its colours tell. */
export const TOLD = "_told";

/** Colours go from the one to the other side of what is pale: by `full` to the last colour. 1/mm, degrees, or mm. */
export interface MapScale {
  mode: MapMode;
  middle: number;
  full: number;
}

/** Degrees that have the last colour. */
const MOST_LEAN = 10;
const NARROWEST = 1e-3;

/** Puts what is told on the meshes, and gives the scale of it. unit: mm in that of the design. pull: the direction in which a part leaves its mould. */
export function mapped(
  mode: MapMode,
  surfaces: readonly BufferGeometry[],
  unit: number,
  pull: readonly [number, number, number],
): MapScale {
  if (mode === "bends") {
    const full = fullBend(surfaces, unit);
    for (const surface of surfaces) surface.setAttribute(TOLD, withBends(surface).getAttribute(BEND));
    return { mode, middle: 0, full };
  }
  if (mode === "lean") {
    for (const surface of surfaces) surface.setAttribute(TOLD, new BufferAttribute(withLean(surface, pull), 1));
    return { mode, middle: 0, full: MOST_LEAN };
  }
  const all = surfaces.map(withThickness);
  const middle = usual(all);
  surfaces.forEach((surface, i) => {
    const told = Float32Array.from(all[i] ?? [], (mm) => (Number.isNaN(mm) ? 0 : mm - middle));
    surface.setAttribute(TOLD, new BufferAttribute(told, 1));
  });
  return { mode, middle, full: Math.max(middle, NARROWEST) };
}

/** The number in the middle of all: half are less. */
function usual(all: readonly Float32Array[]): number {
  const known = all.flatMap((values) => [...values].filter((mm) => !Number.isNaN(mm))).sort((a, b) => a - b);
  return known[Math.floor(known.length / 2)] ?? 1;
}

/** What is told at a place on a triangle of a mesh: by its corners. */
export function toldAt(geometry: BufferGeometry, { a, b, c }: Face, place: Vector3): number {
  const position = geometry.getAttribute("position");
  const told = geometry.getAttribute(TOLD);
  const [first, second, third] = [a, b, c].map((i) => new Vector3().fromBufferAttribute(position, i));
  const parts = new Vector3(1, 0, 0);
  if (first && second && third) Triangle.getBarycoord(place, first, second, third, parts);
  return parts.x * told.getX(a) + parts.y * told.getX(b) + parts.z * told.getX(c);
}
