import { memo } from "react";
import { millimetres } from "../model/units";
import { colours } from "../theme/colours";
import { apart, type XY } from "./drawing";
import { ORIGIN } from "./ground";
import type { BoardState } from "./useBoard";
import type { Underlay } from "./useUnderlay";

/** The colour of the sheet. */
export const PAPER = "#FAF7EE";

/** mm at the middle of the sheet, and mm for each pixel. */
export interface Look {
  x: number;
  y: number;
  scale: number;
}

/** A thin line on the sheet; with a tick across both ends where it is what is measured. */
export function Segment({
  ends,
  toScreen,
  ticks = false,
}: {
  ends: readonly [XY, XY];
  toScreen: (p: XY) => XY;
  ticks?: boolean;
}) {
  const [a, b] = [toScreen(ends[0]), toScreen(ends[1])];
  const size = apart(a, b) || 1;
  const n: XY = [(-(b[1] - a[1]) / size) * 5, ((b[0] - a[0]) / size) * 5];
  return (
    <>
      <path d={`M${a.join(" ")}L${b.join(" ")}`} strokeWidth={0.8} strokeOpacity={ticks ? 0.9 : 0.4} />
      {ticks &&
        [a, b].map((p, i) => (
          <path key={i} d={`M${p[0] - n[0]} ${p[1] - n[1]}L${p[0] + n[0]} ${p[1] + n[1]}`} strokeWidth={1.2} />
        ))}
    </>
  );
}

export interface GridSteps {
  fine: number;
  coarse: number;
}

/** Round steps in the unit: the fine one is some ten pixels apart. */
export function gridStep(scale: number, unit: Parameters<typeof millimetres>[0]): GridSteps {
  const wanted = (scale * 11) / millimetres(unit);
  const power = 10 ** Math.floor(Math.log10(wanted));
  const fine = ([1, 2, 5, 10].find((n) => n * power >= wanted) ?? 10) * power * millimetres(unit);
  return { fine, coarse: fine * 5 };
}

/** What is seen of the sheet, in mm, from its lower left to its upper right. */
const within = ({ x, y, scale }: Look, { width, height }: { width: number; height: number }): [XY, XY] => [
  [x - (width / 2) * scale, y - (height / 2) * scale],
  [x + (width / 2) * scale, y + (height / 2) * scale],
];

/** The multiples of a step that are seen, along x and along y. */
export function steps(look: Look, size: { width: number; height: number }, step: number): [number[], number[]] {
  const [low, high] = within(look, size);
  const along = (axis: 0 | 1) => {
    const first = Math.ceil(low[axis] / step);
    const count = Math.max(Math.floor(high[axis] / step) - first + 1, 0);
    return Array.from({ length: count }, (_, i) => (first + i) * step);
  };
  return [along(0), along(1)];
}

/** The grid that snaps, and every fifth of its lines a little stronger. */
export const Grid = memo(function Grid({
  look,
  size,
  step,
  toScreen,
}: {
  look: Look;
  size: { width: number; height: number };
  step: GridSteps;
  toScreen: (p: XY) => XY;
}) {
  const lines = (by: number) => {
    const [across, up] = steps(look, size, by);
    const upright = across.map((at) => `M${toScreen([at, 0])[0]} 0V${size.height}`);
    return [...upright, ...up.map((at) => `M0 ${toScreen([0, at])[1]}H${size.width}`)].join("");
  };
  return (
    <g pointerEvents="none" fill="none" stroke={colours.hairline}>
      <path data-testid="grid" d={lines(step.fine)} strokeOpacity={0.25} />
      <path d={lines(step.coarse)} strokeOpacity={0.5} />
    </g>
  );
});

/** The axes: lines of their own, unlike what is drawn for construction, that can be picked and held to. */
export function Axes({
  size,
  toScreen,
  chosen,
}: {
  size: { width: number; height: number };
  toScreen: (p: XY) => XY;
  chosen: ReadonlySet<string>;
}) {
  const [ox, oy] = toScreen([0, 0]);
  const lines = [
    { id: "x-axis", d: `M0 ${oy}H${size.width}` },
    { id: "y-axis", d: `M${ox} 0V${size.height}` },
  ];
  return (
    <g fill="none">
      {lines.map(({ id, d }) => (
        <g key={id} data-ground={id}>
          <path d={d} stroke="transparent" strokeWidth={9} pointerEvents="stroke" />
          <path
            d={d}
            pointerEvents="none"
            stroke={chosen.has(id) ? colours.buoy : colours.inkSoft}
            strokeOpacity={chosen.has(id) ? 1 : 0.55}
            strokeWidth={chosen.has(id) ? 2 : 1}
          />
        </g>
      ))}
      <g data-ground={ORIGIN} transform={`translate(${ox} ${oy})`}>
        <circle r={9} fill="transparent" pointerEvents="all" />
        <circle
          r={4.5}
          fill={PAPER}
          stroke={chosen.has(ORIGIN) ? colours.buoy : colours.inkSoft}
          strokeWidth={chosen.has(ORIGIN) ? 2 : 1}
          pointerEvents="none"
        />
      </g>
    </g>
  );
}

export function extentOf({ drawn }: BoardState, underlay: Underlay): XY[] {
  const found: XY[] = [
    ...Object.values(drawn.points),
    ...underlay.spots.map(({ at }) => at),
    ...underlay.ghosts.flatMap(({ points }) => points),
  ];
  return drawn.now?.box ? [...found, ...drawn.now.box] : found;
}

export function fit(points: XY[], size: { width: number; height: number }): Look {
  if (!points.length) return { x: 0, y: 0, scale: 0.2 };
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const low: XY = [Math.min(...xs), Math.min(...ys)];
  const high: XY = [Math.max(...xs), Math.max(...ys)];
  const span = Math.max(apart(low, high), 10);
  return {
    x: (low[0] + high[0]) / 2,
    y: (low[1] + high[1]) / 2,
    scale: Math.max((high[0] - low[0]) / (size.width - 160), (high[1] - low[1]) / (size.height - 130), span / 4000),
  };
}

/** The same, or with places that lie outside of it in sight as well. */
export function roomFor(look: Look, places: XY[], size: { width: number; height: number }): Look {
  const [low, high] = within(look, size);
  const inside = ([x, y]: XY) => x >= low[0] && x <= high[0] && y >= low[1] && y <= high[1];
  return places.every(inside) ? look : fit([low, high, ...places], size);
}
