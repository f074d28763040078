import Box from "@mui/material/Box";
import { useState } from "react";
import { useDocument } from "../floor/context";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { measureText, named, type Hold } from "./drawing";
import type { BoardState } from "./useBoard";

/** What stands before a number that would not say by itself what it is. */
const BEFORE: Record<string, string> = {
  radius: "R ",
  diameter: "⌀ ",
  thickness: "thick ",
  camber: "camber ",
  crest: "crest ",
};

/** A measure on the sheet: its number, typed in place. A number that only tells stands in brackets. */
export function MeasureLabel({
  hold,
  board,
  x,
  y,
  wrong,
}: {
  hold: Hold;
  board: BoardState;
  x: number;
  y: number;
  wrong: boolean;
}) {
  const { unit } = useDocument();
  const [draft, setDraft] = useState<string | null>(null);
  const say = (value: number) => measureText(hold.type, value, unit);
  const measured = board.drawn.now?.measures[hold.id];
  const value = hold.reading ? measured : hold.value;
  const text = typeof value === "string" ? value : value === undefined ? "" : say(value);
  const shown = `${BEFORE[hold.type] ?? ""}${text}`;
  const label = `${board.holdTitle(hold.type)} of ${hold.of.map((id) => named(board.drawn, id)).join(" and ")}`;
  const keep = async () => {
    const wanted = draft?.trim() ?? "";
    setDraft(null);
    if (wanted && wanted !== text) await board.act([{ act: "measure", hold: hold.id, value: wanted }]);
  };
  const look = {
    position: "absolute",
    left: x,
    top: y,
    transform: "translate(-50%, -50%)",
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
        sx={{ ...look, borderColor: colours.buoy, zIndex: 2 }}
      />
    );
  return (
    <Box
      component="button"
      type="button"
      aria-label={`${label}, ${shown}`}
      data-hold={hold.id}
      onClick={() => (hold.reading ? board.store.setState({ picked: [hold.id] }) : setDraft(text.replace("°", "")))}
      sx={{ ...look, cursor: "text" }}
    >
      {hold.reading ? `(${shown})` : shown}
    </Box>
  );
}
