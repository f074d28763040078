import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import type { Edit, Step } from "../../api/types";
import { useDocument, useFloor, useHead, useStatus } from "../../floor/context";
import { stationOf } from "../../model/outline";
import { picturesOn, pictureSummary } from "./pictures";
import { NumberField } from "../../sheet/NumberField";
import { labelled } from "../../theme/theme";
import type { BoardState } from "../../board/useBoard";

/** The reference pictures under the drawing: how faint, how wide, and whether they can be moved. */
export function PicturePanel({ section, board }: { section: Step; board: BoardState }) {
  const pictures = picturesOn(useDocument(), stationOf(section));
  return pictures.map((step) => <One key={step.id} step={step} board={board} />);
}

function One({ step, board }: { step: Step; board: BoardState }) {
  const { change, live } = useFloor();
  const { design } = useHead();
  const summary = pictureSummary(useStatus(step.id));
  if (!summary) return null;
  const set = (name: string, value: unknown): Edit[] => [{ do: "set-param", step: step.id, path: [name], value }];
  const scaling = board.doing.tool === "scale-picture";
  return (
    <Box role="group" aria-label={step.name} sx={{ display: "grid", gap: 0.75 }}>
      <Typography variant="h3">{step.name}</Typography>
      <NumberField
        label="Width"
        kind="length"
        value={(step.params["width"] as number | string | undefined) ?? summary.width}
        worth={summary.width}
        onKeep={(value) => change(set("width", value))}
      />
      <Box sx={{ display: "grid", gridTemplateColumns: labelled, alignItems: "center", gap: 1 }}>
        <Box component="span" id={`fade-${step.id}`} sx={{ fontSize: 14 }}>
          Faded
        </Box>
        <Slider
          size="small"
          aria-labelledby={`fade-${step.id}`}
          min={0}
          max={1}
          step={0.05}
          value={summary.fade}
          onChange={(_, value) => live.preview(design, set("fade", value))}
          onChangeCommitted={(_, value) => void change(set("fade", value))}
          sx={{ ml: 1, width: "calc(100% - 16px)" }}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }}>
        <Button
          variant="outlined"
          aria-pressed={scaling}
          onClick={() => board.choose(scaling ? null : "scale-picture", step.id)}
        >
          Scale by two places
        </Button>
        <Button
          variant="outlined"
          aria-pressed={summary.locked}
          onClick={() => void change(set("locked", !summary.locked))}
        >
          {summary.locked ? "Locked" : "Lock"}
        </Button>
        <Button variant="outlined" onClick={() => void change([{ do: "remove-step", step: step.id }])}>
          Take away
        </Button>
      </Box>
    </Box>
  );
}
