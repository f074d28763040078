import Box from "@mui/material/Box";
import { length } from "../model/units";
import { bendColours, colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { useDocument, usePlace } from "./context";

const HIGH = 148;
/** Shares of the scale that are told, round above and hollow below. */
const TOLD = [1, 0.5, 0, -0.5, -1];

/** What the colours of the skin say: the radius of its sharper bend, and which one is pointed at. */
export function BendScale() {
  const { unit } = useDocument();
  const fullBend = usePlace((p) => p.fullBend);
  const bend = usePlace((p) => (p.pointed ? p.bend : null));
  if (fullBend === null) return null;
  const down = (share: number) => ((1 - share) / 2) * HIGH;
  return (
    <Box
      role="group"
      aria-label="Bends"
      data-full={fullBend}
      data-bend={bend ?? ""}
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
      <Box sx={{ fontWeight: 500, mb: 1 }}>Radius of the bend</Box>
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
            {share === 0 ? "flat" : length(1 / (Math.abs(share) * fullBend), unit)}
            {Math.abs(share) === 1 && (share > 0 ? " round" : " hollow")}
          </Box>
        ))}
        {bend !== null && (
          <Box
            sx={{
              position: "absolute",
              left: -3,
              top: down(Math.max(-1, Math.min(1, bend / fullBend))) - 1,
              width: 22,
              height: 3,
              bgcolor: colours.buoy,
            }}
          />
        )}
      </Box>
      <Box sx={{ mt: 1, minHeight: 18, ...numbers }}>{bend !== null && inWords(bend, unit)}</Box>
    </Box>
  );
}

/** A radius of three digits: more the mesh doesn't bear out. */
function inWords(bend: number, unit: Parameters<typeof length>[1]): string {
  const radius = 1 / Math.max(Math.abs(bend), 1e-12);
  if (radius > 1e5) return "flat";
  return `${length(Number(radius.toPrecision(3)), unit)} ${bend < 0 ? "hollow" : "round"}`;
}
