import { dot } from "../model/outline";

type Triple = readonly [number, number, number];

/** Least share of a way that has to be seen: along the eye nothing can be pulled. */
const SEEN = 0.02;

/** A place so far from another along a unit way. */
export const onwards = (from: Triple, way: Triple, far: number): Triple => [
  from[0] + way[0] * far,
  from[1] + way[1] * far,
  from[2] + way[2] * far,
];

/** How far along a unit way the pointer is: it goes across the screen, and only what is seen of the way counts. Null where that is too little. */
export function farAlong(from: Triple, way: Triple, there: Triple, eye: Triple): number | null {
  const off: Triple = [there[0] - from[0], there[1] - from[1], there[2] - from[2]];
  const depth = dot(way, eye);
  const seen = 1 - depth * depth;
  return seen < SEEN ? null : (dot(off, way) - dot(off, eye) * depth) / seen;
}

/** Where the pointer is on a plane through a place: straight on from the eye. Null where the plane is seen on its edge. */
export function inPlane(through: Triple, normal: Triple, there: Triple, eye: Triple): Triple | null {
  const facing = dot(normal, eye);
  const off: Triple = [through[0] - there[0], through[1] - there[1], through[2] - there[2]];
  return Math.abs(facing) < SEEN ? null : onwards(there, eye, dot(off, normal) / facing);
}
