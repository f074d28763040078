import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import Tooltip from "@mui/material/Tooltip";
import type { SceneMode } from "../model/place";
import { VIEWS, type ViewKey } from "../scene/framing";
import type { Viewport } from "../scene/viewport";
import { colours } from "../theme/colours";
import { useFloor, usePlace } from "./context";
import { CutPanel } from "./CutPanel";
import { useChosenPlane } from "./useChosenPlane";

const MODES: { mode: SceneMode; title: string }[] = [
  { mode: "shade", title: "Shade" },
  { mode: "edges", title: "Edges" },
  { mode: "wire", title: "Wire" },
  { mode: "glass", title: "See through" },
];

/** How the body is drawn, and from where. */
export function ViewControls({ viewport }: { viewport: Viewport | null }) {
  const { place } = useFloor();
  const mode = usePlace((p) => p.mode);
  const plane = useChosenPlane();
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
      }}
    >
      <ButtonGroup size="small" aria-label="Drawn as">
        {MODES.map((item) => (
          <Button
            key={item.mode}
            variant="outlined"
            aria-pressed={mode === item.mode}
            onClick={() => place.setState({ mode: item.mode })}
            sx={mode === item.mode ? { bgcolor: colours.estuaryWash, "&:hover": { bgcolor: colours.estuaryWash } } : {}}
          >
            {item.title}
          </Button>
        ))}
      </ButtonGroup>
      <ButtonGroup size="small" aria-label="Seen from">
        {(Object.keys(VIEWS) as ViewKey[]).map((key) => (
          <Tooltip key={key} title={`Key ${key}`} describeChild>
            <Button variant="outlined" onClick={() => viewport?.look(key)}>
              {VIEWS[key].name}
            </Button>
          </Tooltip>
        ))}
        <Tooltip title="Key 0" describeChild>
          <Button variant="outlined" onClick={() => viewport?.fit()}>
            Fit
          </Button>
        </Tooltip>
      </ButtonGroup>
      <CutPanel viewport={viewport} />
      {plane && (
        <Tooltip title="Square to its plane, key 5" describeChild>
          <Button
            size="small"
            variant="outlined"
            onClick={() => viewport?.square(plane)}
            sx={{ bgcolor: colours.panel }}
          >
            Square on
          </Button>
        </Tooltip>
      )}
    </Box>
  );
}
