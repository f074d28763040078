import Box from "@mui/material/Box";
import { memo, useRef, useState } from "react";
import { useDocument } from "../floor/context";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { measureText, named, type Hold, type XY } from "./drawing";
import type { BoardState } from "./useBoard";

/** What stands before a number that would not say by itself what it is. */
const BEFORE: Record<string, string> = {
  radius: "R ",
  diameter: "⌀ ",
  thickness: "thick ",
  camber: "camber ",
  crest: "crest ",
};

/** Pixels from which on it is pulled, not pressed. */
const PULLED = 4;

/** A measure on the sheet: its number, typed in place, pulled to where it is read best. A number that only tells stands in brackets. */
function Label({
  hold,
  board,
  x,
  y,
  wrong,
  scale,
}: {
  hold: Hold;
  board: BoardState;
  x: number;
  y: number;
  wrong: boolean;
  /** mm for each pixel across and up, as it is seen. */
  scale: XY;
}) {
  const { unit } = useDocument();
  const [draft, setDraft] = useState<string | null>(null);
  /** Pixels that it is being pulled by. */
  const [pulled, setPulled] = useState<XY | null>(null);
  const press = useRef<XY | null>(null);
  const say = (value: number) => measureText(hold.type, value, unit);
  const measured = board.drawn.now?.measures[hold.id];
  const value = hold.reading ? measured : hold.value;
  const text = typeof value === "string" ? value : value === undefined ? "" : say(value);
  // what is worked out from something else says what it comes to as well
  const worth = typeof value === "string" && measured !== undefined ? ` = ${say(measured)}` : "";
  const shown = `${BEFORE[hold.type] ?? ""}${text}${worth}`;
  const label = `${board.holdTitle(hold.type)} of ${hold.of.map((id) => named(board.drawn, id)).join(" and ")}`;
  const keep = async () => {
    const wanted = draft?.trim() ?? "";
    setDraft(null);
    if (wanted && wanted !== text) await board.act([{ act: "measure", hold: hold.id, value: wanted }]);
  };
  // a place among the styles would be a rule of its own in the style sheet, for every move
  const at = { left: x + (pulled?.[0] ?? 0), top: y + (pulled?.[1] ?? 0) };
  const look = {
    position: "absolute",
    transform: "translate(-50%, -50%)",
    whiteSpace: "nowrap",
    ...numbers,
    fontSize: 13,
    lineHeight: "20px",
    px: 0.75,
    borderRadius: "4px",
    border: `1px solid ${wrong ? colours.brick : colours.hairline}`,
    bgcolor: wrong ? colours.brickWash : colours.panel,
    color: wrong ? colours.brick : hold.reading ? colours.inkSoft : colours.ink,
  } as const;
  if (draft !== null)
    return (
      <Box
        component="input"
        aria-label={label}
        autoFocus
        value={draft}
        size={Math.max(draft.length, 4)}
        onFocus={(event: React.FocusEvent<HTMLInputElement>) => event.target.select()}
        onChange={(event: React.ChangeEvent<HTMLInputElement>) => setDraft(event.target.value)}
        onBlur={() => void keep()}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key === "Enter") void keep();
          if (event.key === "Escape") setDraft(null);
          event.stopPropagation();
        }}
        style={at}
        sx={{ ...look, borderColor: colours.buoy, zIndex: 2 }}
      />
    );
  return (
    <Box
      component="button"
      type="button"
      aria-label={`${label}, ${shown}`}
      data-hold={hold.id}
      onPointerDown={(event: React.PointerEvent<HTMLButtonElement>) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        press.current = [event.clientX, event.clientY];
      }}
      onPointerMove={({ clientX, clientY }: React.PointerEvent) => {
        if (!press.current) return;
        const by: XY = [clientX - press.current[0], clientY - press.current[1]];
        if (pulled || Math.hypot(...by) > PULLED) setPulled(by);
      }}
      onPointerUp={() => {
        press.current = null;
        if (!pulled) return;
        const [dx, dy] = hold.aside ?? [0, 0];
        const by: [number, number] = [dx + pulled[0] * scale[0], dy - pulled[1] * scale[1]];
        // it stays where it was let go until the sheet has it there
        void board.act([{ act: "aside", hold: hold.id, by }]).finally(() => setPulled(null));
      }}
      onPointerCancel={() => {
        press.current = null;
        setPulled(null);
      }}
      onClick={() =>
        pulled ?? (hold.reading ? board.store.setState({ picked: [hold.id] }) : setDraft(text.replace("°", "")))
      }
      style={at}
      sx={{ ...look, cursor: "text" }}
    >
      {hold.reading ? `(${shown})` : shown}
    </Box>
  );
}

const measured = ({ hold, board }: { hold: Hold; board: BoardState }) => board.drawn.now?.measures[hold.id];

/** Drawn anew when something of it has changed, not with every move of the hand. */
export const MeasureLabel = memo(
  Label,
  (before, now) =>
    before.hold === now.hold &&
    before.board.drawn.curves === now.board.drawn.curves &&
    ((typeof now.hold.value === "number" && !now.hold.reading) || measured(before) === measured(now)) &&
    before.board.act === now.board.act &&
    before.board.rules === now.board.rules &&
    before.wrong === now.wrong &&
    [before.x, before.y, ...before.scale].join() === [now.x, now.y, ...now.scale].join(),
);
