import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { numbers } from "../theme/theme";
import { keysInWords, useActions } from "./actions";

/** Keys of what is focused, which are nobody else's. */
const OF_THINGS: [string, string][] = [
  ["Esc", "Put back a drag; leave a field; else select nothing"],
  ["arrows", "On a station or a point of a lane: move it one step, ten with Shift"],
  ["s, Delete", "On a point of a lane: sharp or smooth; remove it"],
];

/** All keys there are. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const all = useActions();
  const actions = all().filter((action) => action.keys);
  const rows = [...actions.map((a): [string, string] => [keysInWords(a.keys ?? ""), a.name]), ...OF_THINGS];
  return (
    <Dialog open onClose={onClose} maxWidth="md" aria-labelledby="keys-title">
      <DialogTitle id="keys-title" sx={{ fontWeight: 600, pb: 1 }}>
        Keys
      </DialogTitle>
      <DialogContent tabIndex={0} role="group" aria-label="All keys">
        <Box component="dl" sx={{ m: 0, columnCount: 2, columnGap: 4, fontSize: 14 }}>
          {rows.map(([keys, words]) => (
            <Box key={keys + words} sx={{ display: "flex", gap: 1.5, py: 0.25, breakInside: "avoid" }}>
              <Box component="dt" sx={{ ...numbers, width: 118, flex: "none" }}>
                {keys}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {words}
              </Box>
            </Box>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  );
}
