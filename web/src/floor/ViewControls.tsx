import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import { ActionButton } from "../reach/ActionButton";
import { VIEWS } from "../scene/framing";
import type { Viewport } from "../scene/viewport";
import { useState } from "react";
import { colours } from "../theme/colours";
import { SMALL, useSmall } from "../theme/useRoom";
import { CutPanel } from "./CutPanel";
import { MeetingPanel } from "./MeetingPanel";
import { useChosenPlane } from "./useChosenPlane";

/** How the body is drawn, and from where. */
export function ViewControls({ viewport }: { viewport: Viewport | null }) {
  const plane = useChosenPlane();
  const small = useSmall();
  const [unfolded, setUnfolded] = useState(false);
  return (
    <Box
      sx={{
        position: "absolute",
        top: 12,
        right: 12,
        display: "flex",
        flexDirection: "column",
        alignItems: "flex-end",
        gap: 1,
        // the measures of the body stay in sight
        maxHeight: "calc(100% - 56px)",
        // what is beside the buttons belongs to the scene
        pointerEvents: "none",
        "& > *": { pointerEvents: "auto" },
        [SMALL]: { top: 58, right: 8, maxHeight: "none" },
      }}
    >
      {small && (
        <Button
          size="small"
          variant="outlined"
          aria-expanded={unfolded}
          onClick={() => setUnfolded(!unfolded)}
          sx={{ bgcolor: colours.panel }}
        >
          View
        </Button>
      )}
      {(!small || unfolded) && (
        <>
          <ButtonGroup size="small" aria-label="Drawn as">
            {["shade", "edges", "wire", "stripes", "see through"].map((way) => (
              <ActionButton key={way} of={`Drawn as: ${way}`} />
            ))}
          </ButtonGroup>
          <ButtonGroup size="small" aria-label="Seen from" orientation={small ? "vertical" : "horizontal"}>
            {Object.values(VIEWS).map(({ name }) => (
              <ActionButton key={name} of={`Look from: ${name}`} />
            ))}
            <ActionButton of="Fit everything into view" />
          </ButtonGroup>
          <ButtonGroup size="small" aria-label="Coloured by">
            {["bends", "lean", "thickness"].map((way) => (
              <ActionButton key={way} of={`Drawn as: ${way}`} />
            ))}
          </ButtonGroup>
        </>
      )}
      <CutPanel viewport={viewport} />
      <ActionButton
        of="Combs: how much lines on the body bend"
        size="small"
        sx={{ "&:not([aria-pressed=true])": { bgcolor: colours.panel } }}
      />
      <MeetingPanel />
      {plane && <ActionButton of="Look from: square on" size="small" sx={{ bgcolor: colours.panel }} />}
    </Box>
  );
}
