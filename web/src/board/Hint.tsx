import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useStore } from "zustand";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { SMALL } from "../theme/useRoom";
import { TypedFields } from "../sheet/TypedFields";
import type { BoardState } from "./useBoard";

const line = `1px solid ${colours.hairline}`;

/** What the tool wants, and the numbers that can be typed meanwhile. */
export function Hint({ board }: { board: BoardState }) {
  const { tool, doing, drawn, offer, store } = board;
  return (
    <Box
      component="section"
      aria-label="Tool"
      sx={{
        gridArea: "hint",
        borderTop: line,
        px: 2,
        py: 1,
        display: "grid",
        gap: 0.5,
        [SMALL]: { px: 1, py: 0.25, maxHeight: 74, overflow: "auto" },
      }}
    >
      <Typography variant="body2">
        <b>{tool ? `${tool.title}. ` : "Pull and pick. "}</b>
        {tool
          ? tool.hint
          : "Pull a point to move it; what is held stays held. Click things to pick them, with Shift several."}
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", minHeight: 28 }}>
        {tool?.fields && (
          <TypedFields
            fields={tool.fields}
            texts={doing.typed}
            told={board.told}
            row
            width={106}
            onChange={(typed) => store.setState({ typed })}
            onEnter={() => {
              const pointer = store.getState().pointer;
              const last = doing.picks.at(-1);
              if (last)
                void offer([
                  ...doing.picks,
                  pointer && !pointer.point ? pointer : { at: [last.at[0] + 10, last.at[1]], way: "" },
                ]);
            }}
          />
        )}
        <Coordinates board={board} />
        <Box component="span" sx={{ fontSize: 12, color: colours.inkSoft }}>
          {drawn.now && drawn.now.freedoms > 0 ? "Dotted pencil can still move; ink is held." : ""}
        </Box>
      </Box>
    </Box>
  );
}

/** Where the pointer is, or what is being dragged. */
function Coordinates({ board }: { board: BoardState }) {
  const { unit } = useDocument();
  const to = useStore(board.way, (way) => way.to);
  const at = to ?? board.doing.pointer?.at;
  return (
    <Box component="span" sx={{ ...numbers, fontSize: 12, color: colours.inkSoft, ml: "auto" }}>
      {at ? `x ${lengthNumber(at[0], unit)}  y ${lengthNumber(at[1], unit)}` : ""}
    </Box>
  );
}
