import Box from "@mui/material/Box";
import type { BodySummary } from "../api/types";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { LABEL, LANE } from "./frame";
import { toPixel, type Scale } from "./layout";

interface Props {
  summary: BodySummary;
  title: string;
  values: readonly (number | null)[];
  say: (value: number) => string;
  /** Where the line for nothing lies, if it is to be seen. */
  zero?: number;
  /** What the lane is high at least, so that values that hardly differ make a flat line. */
  least?: number;
  scale: Scale;
  width: number;
  children?: React.ReactNode;
}

const PAD = 7;

/** A lane that is read: computed by the core from the surface itself. */
export function ReadLane({ summary, title, values, say, zero, least = 0, scale, width, children }: Props) {
  const known = values.filter((value): value is number => value !== null);
  const low = Math.min(...known, zero ?? Infinity);
  const high = Math.max(...known, zero ?? -Infinity);
  const y = (value: number) => PAD + (LANE - 2 * PAD) * (1 - (value - low) / (Math.max(high - low, least) || 1));
  const x = (i: number) => toPixel(scale, summary.lanes.at[i] ?? 0);
  const path = values
    .map((value, i) => (value === null ? "" : `${(values[i - 1] ?? null) === null ? "M" : "L"}${x(i)},${y(value)}`))
    .join("");
  return (
    <Box
      role="group"
      aria-label={`${title} lane`}
      sx={{ position: "relative", height: LANE, borderTop: `1px solid ${colours.hairline}` }}
    >
      <Box sx={{ position: "absolute", left: 12, top: 4, width: LABEL + 40, fontSize: 14, fontWeight: 600, zIndex: 1 }}>
        {title}
        {children}
      </Box>
      <svg width={width} height={LANE} style={{ display: "block" }} aria-hidden>
        {zero !== undefined && (
          <line x1={x(0)} x2={x(values.length - 1)} y1={y(zero)} y2={y(zero)} stroke={colours.hairline} />
        )}
        <path d={path} fill="none" stroke={colours.estuary} strokeWidth={1.5} />
        {known.length > 0 && (
          <>
            <text x={width - 10} y={14} textAnchor="end" fontSize={11} fill={colours.inkSoft} style={numbers}>
              {say(high)}
            </text>
            <text x={width - 10} y={LANE - 5} textAnchor="end" fontSize={11} fill={colours.inkSoft} style={numbers}>
              {say(low)}
            </text>
          </>
        )}
      </svg>
    </Box>
  );
}
