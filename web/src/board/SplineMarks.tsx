import { useMemo } from "react";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { bendings, controlsAt, piecesOf } from "./bezier";
import { apart, type Drawn, type XY } from "./drawing";
import { PAPER } from "./sheetLook";

const TEETH = 10;
/** Teeth are as long as this share of the size of the curve where it bends as a circle of that size does. */
const REACH = 0.05;

interface Marked {
  drawn: Drawn;
  picked: readonly string[];
  toScreen: (p: XY) => XY;
}

const SPLINES = ["spline", "poles", "foil"];

/** A comb on each spline that is picked, or of which a point is: how much it bends, along it, as it is being pulled too. */
export function Combs({ drawn, picked, toScreen }: Marked) {
  const { unit } = useDocument();
  const shown = drawn.curves.filter(
    ({ id, type, through }) =>
      SPLINES.includes(type) && (picked.includes(id) || through?.some((p) => picked.includes(p))),
  );
  return shown.map(({ id }) => {
    const path = drawn.now?.curves.find((c) => c.id === id)?.path ?? "";
    const row = bendings(piecesOf(path), TEETH);
    const tightest = row.reduce((a, b) => (Math.abs(b.bend) > Math.abs(a.bend) ? b : a), row[0] ?? NOTHING);
    if (!(Math.abs(tightest.bend) > 0)) return null;
    const size = sizeOf(row.map(({ at }) => at));
    const ends = row.map(({ at, left, bend }): XY => {
      // on the side that it bulges to
      const long = -Math.max(Math.min(bend * size * REACH, 0.6), -0.6) * size;
      return [at[0] + long * left[0], at[1] + long * left[1]];
    });
    const teeth = row.map(({ at }, i) => `M${toScreen(at).join(" ")}L${toScreen(ends[i] ?? at).join(" ")}`).join("");
    const [x, y] = toScreen(tightest.at);
    return (
      <g key={id} data-comb={id} pointerEvents="none" fill="none" stroke={colours.estuary}>
        <path d={teeth} strokeWidth={0.7} strokeOpacity={0.6} />
        <path d={`M${ends.map((p) => toScreen(p).join(" ")).join("L")}`} strokeWidth={1.2} />
        <text
          x={x + 8}
          y={y + 16}
          fontSize={12}
          fill={colours.estuary}
          stroke={PAPER}
          strokeWidth={3.5}
          style={{ ...numbers, paintOrder: "stroke" }}
        >
          R {lengthNumber(1 / Math.abs(tightest.bend), unit)}
        </text>
      </g>
    );
  });
}

const NOTHING = { at: [0, 0], left: [0, 1], bend: 0 } as const;

function sizeOf(places: readonly XY[]): number {
  const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
  return Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
}

/** A control beside a point of a spline, that turns and stretches the way it goes through it. */
export interface Handle {
  curve: string;
  /** Number of the point. */
  at: number;
  from: XY;
  to: XY;
  /** 1: in the direction of the curve; -1: where it comes from. */
  side: 1 | -1;
  /** How long it would be by itself, mm. */
  own: number;
}

/** Those beside the points that are picked. */
export function handlesOf(drawn: Drawn, picked: readonly string[]): Handle[] {
  return drawn.curves.flatMap(({ id, type, through = [], handles = [] }) => {
    if (type !== "spline" || !through.some((p) => picked.includes(p))) return [];
    const pieces = piecesOf(drawn.now?.curves.find((c) => c.id === id)?.path ?? "");
    return through.flatMap((point, at) => {
      const from = drawn.points[point];
      if (!picked.includes(point) || !from) return [];
      const pull = handles.find((handle) => handle.at === at)?.pull ?? 1;
      const { before, after } = controlsAt(pieces, from);
      const made = ([to, side]: readonly [XY | null, 1 | -1]): Handle[] =>
        to && apart(to, from) > 1e-6 ? [{ curve: id, at, from, to, side, own: apart(to, from) / pull }] : [];
      return [...made([after, 1]), ...made([before, -1])];
    });
  });
}

/** The rods with their ends, which are pulled. */
export function Handles({ drawn, picked, toScreen }: Marked) {
  const handles = useMemo(() => handlesOf(drawn, picked), [drawn, picked]);
  return handles.map(({ curve, at, from, to, side }) => {
    const [a, b] = [toScreen(from), toScreen(to)];
    return (
      <g key={`${curve} ${at} ${side}`} data-handle={`${curve} ${at} ${side}`} style={{ cursor: "grab" }}>
        <path d={`M${a.join(" ")}L${b.join(" ")}`} stroke={colours.buoy} strokeWidth={1.2} pointerEvents="none" />
        <circle cx={b[0]} cy={b[1]} r={9} fill="transparent" />
        <rect
          x={b[0] - 4}
          y={b[1] - 4}
          width={8}
          height={8}
          fill={colours.panel}
          stroke={colours.buoy}
          strokeWidth={1.6}
          transform={`rotate(45 ${b.join(" ")})`}
        />
      </g>
    );
  });
}
