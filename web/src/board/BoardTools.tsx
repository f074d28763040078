import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { memo } from "react";
import { api } from "../api/client";
import type { Step } from "../api/types";
import { saveFile } from "../app/saveFile";
import { useProblem } from "../app/useProblem";
import { useDocument, useFloor } from "../floor/context";
import { addPicture } from "../steps/picture/addPicture";
import { stationOf } from "../model/outline";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { SMALL } from "../theme/useRoom";
import { ActionButton } from "../reach/ActionButton";
import { Glyph } from "./Glyph";
import { KEYS, PULL } from "./keys";
import { TOOLS } from "./tools";

const line = `1px solid ${colours.hairline}`;

const TOOL = {
  justifyContent: "flex-start",
  px: 0.75,
  py: "1px",
  minHeight: 25,
  color: colours.ink,
  textAlign: "left",
  lineHeight: 1.3,
  "& .MuiButton-startIcon": { ml: 0, mr: 0.75 },
  "& .MuiButton-endIcon": {
    ml: "auto",
    mr: 0,
    color: colours.inkSoft,
    [SMALL]: { display: "none" },
  },
  '&[aria-pressed="true"]': { color: colours.buoyText, bgcolor: colours.buoyWash },
} as const;

/** Everything that draws and changes, with its words. */
export const Tools = memo(function Tools() {
  return (
    <>
      <ToolButton of="Pull and pick" glyph="pull" letter={PULL} />
      {(["draw", "change"] as const).map((group) => (
        <Box key={group} sx={{ mt: 1 }}>
          {TOOLS.filter((tool) => tool.group === group).map(({ id, title }) => (
            <ToolButton
              key={id}
              of={`${group === "draw" ? "Draw" : "Change"}: ${title}`}
              glyph={id}
              letter={KEYS[id] ?? ""}
            />
          ))}
        </Box>
      ))}
    </>
  );
});

const LETTER = { ...numbers, fontSize: 12 };

function ToolButton({ of, glyph, letter }: { of: string; glyph: string; letter: string }) {
  const key = letter.replace(/^Shift\+/, "");
  return (
    <ActionButton
      of={of}
      variant="text"
      told="right"
      fullWidth
      startIcon={<Glyph of={glyph} />}
      endIcon={
        <span aria-hidden style={LETTER}>
          {letter === key ? key : key.toUpperCase()}
        </span>
      }
      sx={TOOL}
    />
  );
}

/** Curves in and out. */
export const Files = memo(function Files({ section, onBringIn }: { section: Step; onBringIn: () => void }) {
  const { id, cut } = useFloor();
  const { steps } = useDocument();
  const problem = useProblem();
  const save = (format: "dxf" | "svg") => api.drawing(id, section.id, format).then(saveFile).catch(problem);
  return (
    <Box sx={{ mt: 1, pt: 1, borderTop: line, display: "grid", gap: 0.5 }}>
      <Button variant="outlined" onClick={onBringIn}>
        Bring in
      </Button>
      <Button variant="outlined" onClick={() => void addPicture(cut, steps, stationOf(section))}>
        Picture
      </Button>
      <Box sx={{ display: "flex", gap: 0.5 }}>
        {(["dxf", "svg"] as const).map((format) => (
          <Button
            key={format}
            variant="outlined"
            fullWidth
            aria-label={`Save as ${format.toUpperCase()}`}
            onClick={() => void save(format)}
          >
            {format.toUpperCase()}
          </Button>
        ))}
      </Box>
    </Box>
  );
});
