import { memo } from "react";
import { useStore } from "zustand";
import type { LengthUnit } from "../api/types";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { PAPER, steps } from "./sheetLook";
import type { BoardState } from "./useBoard";
import type { Seen } from "./useLook";

const TICK = 4;
const LONG = 9;
/** Pixels from the corner in which the rules have no numbers: they would lie on each other. */
const CORNER = 26;

/** Rules along the upper and the left edge: a tick at every line of the grid that snaps, a number at every fifth. */
export const Rules = memo(function Rules({ seen, unit }: { seen: Seen; unit: LengthUnit }) {
  const { look, size, grid, toScreen } = seen;
  const [fine, coarse] = [steps(look, size, grid.fine), steps(look, size, grid.coarse)];
  const ticks = ([across, up]: [number[], number[]], long: number) =>
    [
      ...across.map((at) => `M${toScreen([at, 0])[0]} 0v${long}`),
      ...up.map((at) => `M0 ${toScreen([0, at])[1]}h${long}`),
    ].join("");
  const clear = (at: number, end: number) => at > CORNER && at < end - CORNER;
  return (
    <g pointerEvents="none" aria-hidden data-testid="rules">
      <path d={ticks(fine, TICK) + ticks(coarse, LONG)} stroke={colours.inkSoft} strokeOpacity={0.6} fill="none" />
      <g
        fontSize={12}
        fill={colours.inkSoft}
        stroke={PAPER}
        strokeWidth={3}
        style={{ paintOrder: "stroke", ...numbers }}
      >
        {coarse[0]
          .map((at): [number, number] => [at, toScreen([at, 0])[0]])
          .filter(([, x]) => clear(x, size.width))
          .map(([at, x]) => (
            <text key={`x${at}`} x={x + 4} y={13}>
              {lengthNumber(at, unit)}
            </text>
          ))}
        {coarse[1]
          .map((at): [number, number] => [at, toScreen([0, at])[1]])
          .filter(([, y]) => clear(y, size.height))
          .map(([at, y]) => (
            <text key={`y${at}`} x={4} y={y - 4}>
              {lengthNumber(at, unit)}
            </text>
          ))}
      </g>
    </g>
  );
});

/** Where the hand is, on both rules. */
export function OnRules({ board, seen }: { board: BoardState; seen: Seen }) {
  const to = useStore(board.way, (way) => way.seen);
  const hand = to ?? board.doing.pointer?.at;
  if (!hand) return null;
  const [x, y] = seen.toScreen(hand);
  return (
    <g fill={colours.buoy} pointerEvents="none">
      <path d={`M${x - 4} 0h8l-4 7z`} />
      <path d={`M0 ${y - 4}v8l7 -4z`} />
    </g>
  );
}
