import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { LengthUnit } from "../api/types";
import { length, trimmed } from "../model/units";
import { PULLS, type Pull } from "../model/pulls";
import type { MapScale as Scale } from "../scene/maps";
import { bendColours, colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { useDocument, useFloor, usePlace } from "./context";

const HIGH = 148;
/** Shares of the scale that are told. */
const TOLD = [1, 0.5, 0, -0.5, -1];
const TITLES = { bends: "Radius of the bend", lean: "Lean from the pull", thickness: "Straight through" } as const;
const LABELS = { bends: "Bends", lean: "Lean", thickness: "Thickness" } as const;

/** What the colours of the skin say, and what is pointed at. */
export function MapScale() {
  const { unit } = useDocument();
  const scale = usePlace((p) => p.scale);
  const told = usePlace((p) => (p.pointed ? p.told : null));
  if (scale === null) return null;
  const { mode, middle, full } = scale;
  const down = (share: number) => ((1 - share) / 2) * HIGH;
  return (
    <Box
      role="group"
      aria-label={LABELS[mode]}
      data-full={full}
      data-middle={middle}
      data-told={told === null ? "" : told + middle}
      sx={{
        position: "absolute",
        left: 12,
        bottom: 108,
        width: 132,
        px: 1.25,
        py: 1,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
        fontSize: 12.5,
        pointerEvents: "none",
      }}
    >
      <Box sx={{ fontWeight: 500, mb: 1 }}>{TITLES[mode]}</Box>
      {mode === "lean" && <PullChoice />}
      <Box sx={{ position: "relative", height: HIGH, my: 0.5 }}>
        <Box
          sx={{
            width: 16,
            height: HIGH,
            borderRadius: 0.5,
            background: `linear-gradient(${bendColours.round}, ${bendColours.flat}, ${bendColours.hollow})`,
          }}
        />
        {TOLD.map((share) => (
          <Box
            key={share}
            sx={{
              position: "absolute",
              left: 24,
              top: down(share) - 9,
              lineHeight: "18px",
              whiteSpace: "nowrap",
              ...numbers,
            }}
          >
            {onScale(scale, share, unit)}
          </Box>
        ))}
        {told !== null && (
          <Box
            sx={{
              position: "absolute",
              left: -3,
              top: down(Math.max(-1, Math.min(1, told / full))) - 1,
              width: 22,
              height: 3,
              bgcolor: colours.buoy,
            }}
          />
        )}
      </Box>
      <Box sx={{ mt: 1, minHeight: 18, ...numbers }}>{told !== null && inWords(scale, told, unit)}</Box>
    </Box>
  );
}

/** Which way a part leaves its mould. */
function PullChoice() {
  const { place } = useFloor();
  const pull = usePlace((p) => p.pull);
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={pull}
      aria-label="Pulled along"
      onChange={(_, value: Pull | null) => value && place.setState({ pull: value })}
      sx={{ pointerEvents: "auto", mb: 1, "& button": { px: 0.75, py: 0.25, fontSize: 12, textTransform: "none" } }}
    >
      {PULLS.map((way) => (
        <ToggleButton key={way} value={way}>
          {way}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

function onScale({ mode, middle, full }: Scale, share: number, unit: LengthUnit): string {
  if (mode === "thickness") return length(Number((middle + share * full).toPrecision(3)), unit);
  if (mode === "lean") return share === 0 ? "upright" : `${trimmed(share * full, 1)}°${share === -1 ? " holds" : ""}`;
  const end = Math.abs(share) === 1 ? (share > 0 ? " round" : " hollow") : "";
  return share === 0 ? "flat" : `${length(1 / (Math.abs(share) * full), unit)}${end}`;
}

/** In three digits: more the mesh doesn't bear out. */
function inWords({ mode, middle }: Scale, told: number, unit: LengthUnit): string {
  if (mode === "thickness") return length(Number((told + middle).toPrecision(3)), unit);
  if (mode === "lean") return `${trimmed(told, 1)}° ${told < 0 ? "holds fast" : "comes free"}`;
  const radius = 1 / Math.max(Math.abs(told), 1e-12);
  if (radius > 1e5) return "flat";
  return `${length(Number(radius.toPrecision(3)), unit)} ${told < 0 ? "hollow" : "round"}`;
}
