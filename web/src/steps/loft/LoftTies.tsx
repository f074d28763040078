import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import type { Step } from "../../api/types";
import { Sign } from "../../app/Sign";
import { useDocument, useFloor, useStatus } from "../../floor/context";
import { tiesOf, withoutTie, withTie } from "./ties";

/** The lines that connect what belongs together in all sections: pulled about in the scene, added and taken out here. */
export function LoftTies({ step }: { step: Step }) {
  const { change } = useFloor();
  const { steps } = useDocument();
  const summary = useStatus(step.id)?.summary;
  const ties = tiesOf(step);
  const built = summary?.result === "body" ? summary : null;
  const named = (id: string) => steps.find((other) => other.id === id)?.name ?? "";
  return (
    <Box role="group" aria-label="Connecting lines" sx={{ mt: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", minHeight: 30 }}>
        <Typography variant="body2" sx={{ mr: "auto" }}>
          Connecting lines
        </Typography>
        <Button size="small" disabled={!built} onClick={() => built && void change(withTie(step, built))}>
          Add
        </Button>
      </Box>
      {ties.map((tie, i) => (
        <Box key={i} sx={{ display: "flex", alignItems: "center", minHeight: 28 }}>
          <Typography variant="body2" noWrap sx={{ mr: "auto", color: "text.secondary" }}>
            {i + 1}. held at {tie.places.map(({ section }) => named(section.step)).join(", ")}
          </Typography>
          <IconButton
            size="small"
            onClick={() => void change(withoutTie(step, i))}
            aria-label={`Take connecting line ${i + 1} out`}
          >
            <Sign of="remove" />
          </IconButton>
        </Box>
      ))}
      {ties.length > 0 && (
        <Typography variant="caption" color="text.secondary">
          Pull its marks round the sections in the scene.
        </Typography>
      )}
    </Box>
  );
}
