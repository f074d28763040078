import { useMemo } from "react";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { bendingNear, bendings, controlsAt, piecesOf } from "./bezier";
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

/** A control beside a point of a spline: at the end of a rod, that turns and stretches the way it goes through it, or of a tooth of its comb, that bends it there. */
export interface Handle {
  curve: string;
  /** Number of the point. */
  at: number;
  from: XY;
  to: XY;
  /** 1: in the direction of the curve; -1: where it comes from; 0: square to it, as far as it bends. */
  side: 1 | -1 | 0;
  /** How long a rod would be by itself, mm; of a tooth, how long it is where the curve bends by 1/mm, mm2. */
  own: number;
  /** By how much it stands off the end of its tooth, mm: where a curve hardly bends it would lie on the point. */
  off: number;
  /** As it runs through the point now: degrees, how far that is felt, 1/mm where that is held. */
  angle: number;
  pull: number;
  bend?: number | null | undefined;
  /** Square to the curve, to its left. */
  left: XY;
}

/** Pixels from the end of a tooth to what it is pulled by. */
const OFF = 14;

/** Those beside the points that are picked. scale: mm for each pixel. */
export function handlesOf(drawn: Drawn, picked: readonly string[], scale: number): Handle[] {
  return drawn.curves.flatMap(({ id, type, through = [], handles = [] }) => {
    if (type !== "spline" || !through.some((p) => picked.includes(p))) return [];
    const pieces = piecesOf(drawn.now?.curves.find((c) => c.id === id)?.path ?? "");
    return through.flatMap((point, at) => {
      const from = drawn.points[point];
      if (!picked.includes(point) || !from) return [];
      const held = handles.find((handle) => handle.at === at);
      const pull = held?.pull ?? 1;
      const { before, after } = controlsAt(pieces, from);
      const here = bendingNear(pieces, from);
      if (!here) return [];
      const { left, bend } = here;
      const angle = held?.angle ?? Math.round(((Math.atan2(-left[0], left[1]) * 180) / Math.PI) * 1e6) / 1e6;
      const now = { curve: id, at, from, angle, pull, bend: held?.bend, left, off: 0 };
      const rod = (to: XY | null, side: 1 | -1): Handle[] =>
        to && apart(to, from) > 1e-6 ? [{ ...now, to, side, own: apart(to, from) / pull }] : [];
      // as long as the tooth of the comb there, and a little more
      const own = sizeOf(bendings(pieces, TEETH).map((tooth) => tooth.at)) ** 2 * REACH;
      const off = bend > 0 ? -OFF * scale : OFF * scale;
      const long = -bend * own + off;
      const to: XY = [from[0] + long * left[0], from[1] + long * left[1]];
      const tooth: Handle = { ...now, to, side: 0, own, off };
      return [tooth, ...rod(after, 1), ...rod(before, -1)];
    });
  });
}

/** The rods and teeth with their ends, which are pulled. */
export function Handles({ drawn, picked, toScreen, scale }: Marked & { scale: number }) {
  const handles = useMemo(() => handlesOf(drawn, picked, scale), [drawn, picked, scale]);
  return handles.map(({ curve, at, from, to, side }) => {
    const [a, b] = [toScreen(from), toScreen(to)];
    return (
      <g key={`${curve} ${at} ${side}`} data-handle={`${curve} ${at} ${side}`} style={{ cursor: "grab" }}>
        <path
          d={`M${a.join(" ")}L${b.join(" ")}`}
          stroke={side === 0 ? colours.estuary : colours.buoy}
          strokeWidth={1.2}
          pointerEvents="none"
        />
        <circle cx={b[0]} cy={b[1]} r={9} fill="transparent" />
        {side === 0 ? (
          <circle cx={b[0]} cy={b[1]} r={4} fill={colours.panel} stroke={colours.estuary} strokeWidth={1.6} />
        ) : (
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
        )}
      </g>
    );
  });
}
