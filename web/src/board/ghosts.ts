import { apart, type XY } from "./drawing";
import { circleThrough, leftOf, path } from "./tools/shapes";

/** What curves that are being drawn look like, as paths in mm: the same curves as the core will make of the picks. */

/** The arc about a centre, counter-clockwise. */
export function arcAbout(center: XY, from: XY, towards: XY, radius: number = apart(center, from)): string {
  const turn = (p: XY) => Math.atan2(p[1] - center[1], p[0] - center[0]);
  const at = (angle: number): XY => [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
  const sweep = (turn(towards) - turn(from) + 4 * Math.PI) % (2 * Math.PI);
  if (!(radius > 0) || sweep < 1e-9) return path(center, from);
  const [a, b] = [at(turn(from)), at(turn(from) + sweep)];
  return `M${a[0]} ${a[1]}A${radius} ${radius} 0 ${sweep > Math.PI ? 1 : 0} 1 ${b[0]} ${b[1]}`;
}

/** The arc from one place to another through a third. */
export function arcThrough(a: XY, b: XY, on: XY): string {
  const center = circleThrough(a, b, on);
  if (!center) return path(a, b);
  return leftOf(a, b, on) ? arcAbout(center, b, a) : arcAbout(center, a, b);
}

/** Times a closed spline is gone round, so that where it begins and ends is far from the round that is shown. */
const ROUNDS = 5;

/** The cubic through places, smooth to its second derivative, free at its ends or closed. */
export function splineThrough(places: readonly XY[], closed: boolean): string {
  const p = places.filter((at, i) => i === 0 || apart(at, places[i - 1] ?? at) > 1e-9);
  if (p.length < 3) return path(...p);
  const all = closed ? Array.from({ length: ROUNDS * p.length + 1 }, (_, i) => p[i % p.length] ?? at(p, 0)) : p;
  const steps = all.slice(1).map((to, i) => Math.sqrt(apart(at(all, i), to)));
  const slopes = ([0, 1] as const).map((axis) =>
    slopesOf(
      all.map((q) => q[axis]),
      steps,
    ),
  );
  const first = closed ? p.length * Math.floor(ROUNDS / 2) : 0;
  const count = closed ? p.length : p.length - 1;
  const control = (i: number, reach: number) =>
    ([0, 1] as const).map((axis) => at(all, i)[axis] + (reach * number(slopes[axis], i)) / 3).join(" ");
  const pieces = Array.from({ length: count }, (_, k) => {
    const [i, step] = [first + k, number(steps, first + k)];
    return `C${control(i, step)} ${control(i + 1, -step)} ${at(all, i + 1).join(" ")}`;
  });
  return `M${at(all, first).join(" ")}${pieces.join("")}`;
}

const NOWHERE: XY = [0, 0];
const at = (places: readonly XY[], i: number): XY => places[i] ?? NOWHERE;
const number = (values: readonly number[] | undefined, i: number): number => values?.[i] ?? 0;

/** Slopes of the cubic spline through values a step apart from each to the next, free at both ends: a system of three diagonals. */
function slopesOf(values: readonly number[], steps: readonly number[]): number[] {
  const last = values.length - 1;
  const rows = values.map((value, i) => {
    const before = i > 0 ? 1 / number(steps, i - 1) : 0;
    const after = i < last ? 1 / number(steps, i) : 0;
    const rise = before ** 2 * (value - number(values, i - 1)) + after ** 2 * (number(values, i + 1) - value);
    return { before, after, own: 2 * (before + after), right: 3 * rise };
  });
  const down: { share: number; right: number }[] = [];
  for (const { before, after, own, right } of rows) {
    const above = down.at(-1) ?? { share: 0, right: 0 };
    const pivot = own - before * above.share;
    down.push({ share: after / pivot, right: (right - before * above.right) / pivot });
  }
  return down.reduceRight<number[]>((found, { share, right }) => [right - share * (found[0] ?? 0), ...found], []);
}

/** The cubic B-spline of control points, its inner knots a step apart; with fewer than four, the way along them. */
export function splineBy(poles: readonly XY[]): string {
  if (poles.length < 4) return path(...poles);
  const spans = poles.length - 3;
  const knot = (i: number) => Math.min(Math.max(i - 3, 0), spans);
  // de Boor, from the four controls that are felt there
  const place = (t: number): XY => {
    const span = Math.min(Math.floor(t), spans - 1);
    let felt = poles.slice(span, span + 4);
    for (let r = 1; r <= 3; r++)
      felt = felt.slice(1).map((to, j) => {
        const [low, high] = [knot(span + r + j), knot(span + 4 + j)];
        const share = (t - low) / (high - low);
        return [0, 1].map((axis) => (1 - share) * number(felt[j], axis) + share * number(to, axis)) as [number, number];
      });
    return at(felt, 0);
  };
  return path(...Array.from({ length: spans * 12 + 1 }, (_, i) => place(i / 12)));
}
