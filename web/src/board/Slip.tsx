import Box from "@mui/material/Box";
import type { KeyboardEvent } from "react";
import { useStore } from "zustand";
import { useDocument } from "../floor/context";
import { lengthNumber, trimmed } from "../model/units";
import { TypedFields } from "../sheet/TypedFields";
import { colours } from "../theme/colours";
import { apart, type XY } from "./drawing";
import type { Spot } from "./snap";
import { AWAY } from "./keys";
import { fieldsOf, PLACE, type Tool } from "./tools";
import type { BoardState } from "./useBoard";
import type { Seen } from "./useLook";

const WIDTH = 240;
const HEIGHT = 112;
const OFF = 20;

/** A slip of paper that goes along with the hand: what the tool wants next, and its numbers as they are and as they are typed. */
export function Slip({ board, seen }: { board: BoardState; seen: Seen }) {
  const { tool, doing, offer, store } = board;
  const { unit } = useDocument();
  const dragged = useStore(board.way, (way) => way.seen);
  if (!tool) return null;
  const { picks, pointer, typed, pending } = doing;
  const made = picks.length + pending;
  const at: XY = dragged ?? pointer?.at ?? picks.at(-1)?.at ?? [seen.look.x, seen.look.y];
  // where no hand is there is no place to tell
  const reads = { ...(pointer ? { x: at[0], y: at[1] } : {}), ...tool.reads?.(picks, at, board.drawn) };
  const fields = fieldsOf(tool, made).map((field) => {
    const read = (reads as Partial<Record<string, number>>)[field.name];
    const hint =
      read === undefined
        ? undefined
        : field.kind === "length"
          ? lengthNumber(read, unit)
          : trimmed(read, field.kind === "count" ? 0 : 1);
    return { ...field, ...(hint === undefined ? {} : { hint }) };
  });
  const [px, py] = placed(seen, seen.toScreen(at), pointer !== null);
  /** Level or upright from the last place, as the arrow points. */
  const aim = (event: KeyboardEvent<HTMLElement>) => {
    const way = tool.aims && made ? AWAY[event.key] : undefined;
    if (!way || event.shiftKey || event.altKey || event.ctrlKey) return round(event);
    event.preventDefault();
    event.stopPropagation();
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    const [dx, dy] = [10 * seen.flip * way[0], 10 * way[1]];
    void offer((before) => {
      const last = before.at(-1);
      const level = dy ? "vertical" : "horizontal";
      return last ? { at: [last.at[0] + dx, last.at[1] + dy], level, way: "" } : null;
    });
  };
  const take = () => {
    // the next number goes to the field that is ready for it
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    const { typed: texts } = store.getState();
    const told = Object.values(texts).some((text) => text.trim());
    const placed = PLACE.every(({ name }) => texts[name]?.trim());
    const corners = tool.corners ? doing.picked.filter((id) => board.drawn.points[id]) : [];
    for (const point of corners) void offer({ at, point, way: "" });
    if (corners.length) return;
    if (placed) void offer({ at, way: "" });
    else if (!pointer) void offer(beyond);
    else void offer(tool.group === "draw" && told ? (before) => towards(before, pointer) : pointer);
  };
  return (
    <Box
      component="section"
      aria-label="Tool"
      data-slip
      onKeyDown={aim}
      style={{ left: px, top: py }}
      sx={{
        position: "absolute",
        width: WIDTH,
        p: "5px 9px 7px",
        display: "grid",
        gridTemplateColumns: "1fr 1fr",
        gap: "3px 8px",
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderLeft: `3px solid ${colours.buoy}`,
        borderRadius: "2px 6px 6px 2px",
        fontSize: 12.5,
        lineHeight: 1.35,
        // the hand draws through it; keys reach its numbers
        pointerEvents: "none",
        zIndex: 1,
      }}
    >
      <Box role="status" sx={{ gridColumn: "1 / -1" }}>
        <b>{tool.title}:</b> {askFor(tool, picks.length)}
      </Box>
      <TypedFields
        fields={fields}
        texts={typed}
        row
        width="100%"
        told={board.told}
        onChange={(next) => store.setState({ typed: next })}
        onEnter={take}
      />
    </Box>
  );
}

/** From the last number Tab goes to the first again: Esc leads out. */
function round(event: KeyboardEvent<HTMLElement>): void {
  if (event.key !== "Tab") return;
  const fields = [...event.currentTarget.querySelectorAll("input")];
  const at = fields.findIndex((field) => field === event.target);
  event.preventDefault();
  fields[(at + (event.shiftKey ? -1 : 1) + fields.length) % fields.length]?.focus();
}

/** Level with the last place, for whoever draws by numbers alone. */
const beyond = (picks: readonly Spot[]): Spot | null => {
  const last = picks.at(-1);
  return last ? { at: [last.at[0] + 10, last.at[1]], level: "horizontal", way: "" } : null;
};

/** Where numbers were typed the hand only shows the way: what it rests on is not meant, and where it still is on the last place, it goes level. */
const towards = (picks: readonly Spot[], { at, level }: Spot): Spot | null => {
  const last = picks.at(-1);
  return last && apart(last.at, at) < 1e-9 ? beyond(picks) : { at, way: "", ...(level ? { level } : {}) };
};

const askFor = ({ asks }: Tool, picks: number): string => asks[Math.min(picks, asks.length - 1)] ?? "";

/** Beside the hand, on the side where there is room; in the lower corner while no hand is on the sheet. */
function placed({ size }: Seen, [x, y]: XY, there: boolean): XY {
  if (!there) return [12, size.height - HEIGHT - 24];
  return [
    x + OFF + WIDTH > size.width ? x - OFF - WIDTH : x + OFF,
    y + OFF + HEIGHT > size.height ? y - OFF - HEIGHT : y + OFF,
  ];
}
