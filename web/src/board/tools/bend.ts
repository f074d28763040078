import type { Typed } from "../../sheet/useTyped";
import { arcAbout } from "../ghosts";
import { apart, type Drawn, type XY } from "../drawing";
import type { Spot } from "../snap";
import { turnedAbout, typedNumber } from "./shapes";

/** The end of a line or an arc, and the unit direction in which it leaves it. */
export interface Leaving {
  curve: string;
  at: XY;
  way: XY;
}

/** An arc that goes on from an end. left: it turns to the left, and so begins there; else it ends there. */
export interface Bend {
  center: XY;
  end: XY;
  radius: number;
  left: boolean;
  path: string;
}

const unit = ([x, y]: XY): XY => {
  const size = Math.hypot(x, y) || 1;
  return [x / size, y / size];
};

/** What ends in a place that was picked: of several the one that was drawn last. */
export function leaving(drawn: Drawn, { point }: Spot): Leaving | null {
  const at = drawn.points[point ?? ""];
  if (!point || !at) return null;
  const curve = drawn.curves.findLast(
    ({ type, start, end }) => (type === "line" || type === "arc") && (start === point || end === point),
  );
  const other = drawn.points[(curve?.start === point ? curve.end : curve?.start) ?? ""];
  if (!curve || !other) return null;
  if (curve.type === "line") return { curve: curve.id, at, way: unit([at[0] - other[0], at[1] - other[1]]) };
  const center = drawn.points[curve.center ?? ""];
  if (!center) return null;
  const [dx, dy] = [at[0] - center[0], at[1] - center[1]];
  // counter-clockwise, out of its end; the other way out of its start
  return { curve: curve.id, at, way: unit(curve.end === point ? [-dy, dx] : [dy, -dx]) };
}

/** The arc from there towards a place: through it, or as it was typed: of a radius, turned by a sweep, to the left above 0. Null for none. */
export function bent({ at, way }: Leaving, to: XY, { radius, sweep }: Typed = {}): Bend | null {
  const [dx, dy] = [to[0] - at[0], to[1] - at[1]];
  const aside = way[0] * dy - way[1] * dx;
  const reach = dx * dx + dy * dy;
  const degrees = typedNumber(sweep);
  const turn = degrees === null ? null : (degrees * Math.PI) / 180;
  if (turn === 0 || (turn !== null && Math.abs(turn) >= 2 * Math.PI)) return null;
  if (turn === null && (reach < 1e-12 || Math.abs(aside) < 1e-9 * Math.sqrt(reach))) return null;
  const left = turn === null ? aside > 0 : turn > 0;
  const by = turn === null ? reach / (2 * Math.abs(aside)) : Math.sqrt(reach) / (2 * Math.abs(Math.sin(turn / 2)));
  const size = typedNumber(radius) ?? by;
  if (!(size > 0)) return null;
  const side = left ? 1 : -1;
  const center: XY = [at[0] - side * way[1] * size, at[1] + side * way[0] * size];
  const far = apart(center, to) || 1;
  const end: XY =
    turn === null
      ? [center[0] + ((to[0] - center[0]) * size) / far, center[1] + ((to[1] - center[1]) * size) / far]
      : turnedAbout(center, at, turn);
  return { center, end, radius: size, left, path: left ? arcAbout(center, at, end) : arcAbout(center, end, at) };
}
