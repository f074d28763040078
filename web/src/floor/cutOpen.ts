import { cross, dot } from "../model/outline";
import type { Cut } from "../model/place";
import type { Plane } from "../model/plane";
import type { Viewport } from "../scene/viewport";

type Triple = Cut["axis"];
export const AXES: readonly { title: string; axis: Triple }[] = [
  { title: "x", axis: [1, 0, 0] },
  { title: "y", axis: [0, 1, 0] },
  { title: "z", axis: [0, 0, 1] },
];
/** A cut through the middle of all there is, so that the eye looks into it. */
export function cutAlong(viewport: Viewport, axis: Triple): Cut | null {
  const box = viewport.extent();
  if (!box) return null;
  const sign = dot(viewport.towardsEye(), axis) < 0 ? -1 : 1;
  const way = axis.map((v) => v * sign) as unknown as Triple;
  const middle = box.low.map((v, i) => (v + (box.high[i] ?? 0)) / 2) as unknown as Triple;
  return { axis: way, at: dot(middle, way) };
}

/** A cut in a plane, what is nearer to the eye taken away. */
export function cutAt({ origin, x, y }: Plane, viewport: Viewport | null): Cut {
  const normal = cross(x, y);
  const sign = viewport && dot(viewport.towardsEye(), normal) < 0 ? -1 : 1;
  const axis = normal.map((v) => v * sign) as unknown as Triple;
  return { axis, at: dot(origin, axis) };
}
