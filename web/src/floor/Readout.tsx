import Box from "@mui/material/Box";
import { finishOf, massInWords } from "../model/finish";
import { amount, box } from "../model/units";
import { Sign } from "../app/Sign";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { isStale } from "../model/stale";
import { SMALL } from "../theme/useRoom";
import { makerOf } from "../model/outline";
import { useBuilt, useDocument, useOutline, usePlace } from "./context";

/** Rows of numbers that leave the scene room. */
const MOST = 3;

/** Volume and box of the body, always in sight. */
export function Readout() {
  const { unit, steps } = useDocument();
  const outline = useOutline();
  const statuses = useBuilt((built) => built.steps);
  const shown = useBuilt((built) => built.shown);
  const bodies = outline.standing.flatMap((step) => {
    const status = statuses[step.id];
    return status?.summary?.result === "body" ? [{ step, summary: status.summary, rough: status.rough }] : [];
  });
  // a body that failed is shown as it was only where nothing healthy stands in its place
  const stale = steps.some((step) => isStale(step, statuses[step.id]));
  const meant = usePlace((p) => makerOf(outline, p.selected)?.group.body.id);
  if (!bodies.length && !stale) return null;
  // of many bodies those that are not meant would hide what they are about
  const many = bodies.length > MOST;
  const told = many
    ? bodies.toSorted((a, b) => +(b.step.id === meant) - +(a.step.id === meant)).slice(0, MOST - 1)
    : bodies;
  return (
    <Box
      role="status"
      aria-label="Measures"
      data-shown={shown}
      sx={{
        position: "absolute",
        bottom: 14,
        left: 104,
        right: 12,
        display: "flex",
        flexDirection: "column",
        alignItems: "center",
        gap: 0.25,
        pointerEvents: "none",
        [SMALL]: { left: 8, bottom: 6 },
      }}
    >
      {stale && (
        <Box
          sx={{
            fontSize: 13,
            fontWeight: 600,
            color: colours.amber,
            bgcolor: colours.amberWash,
            border: `1px solid ${colours.amberLine}`,
            borderRadius: 1,
            px: 1,
          }}
        >
          <Sign of="waiting" /> This is the last good shape
        </Box>
      )}
      {told.map(({ step, summary, rough }) => {
        const [word, held] = amount(summary, unit);
        const mass = massInWords(summary, finishOf(step, steps, statuses));
        const sides = summary.high.map((high, i) => high - (summary.low[i] ?? 0));
        return (
          <Box
            key={step.id}
            data-testid={`measures-${step.id}`}
            sx={{
              display: "flex",
              gap: 2.5,
              px: 1,
              borderRadius: 1,
              // combs and rails may pass behind
              bgcolor: `${colours.paper}D9`,
              color: colours.inkSoft,
              fontSize: 14,
              "& b": { ...numbers, fontWeight: 500, color: colours.ink },
            }}
          >
            {bodies.length > 1 && (
              <span>{outline.groups.find(({ body }) => body.id === step.id)?.makers[0]?.step.name ?? step.name}</span>
            )}
            {rough && <span title="The exact body follows by itself">≈ by the preview</span>}
            <span>
              {word}{" "}
              <b
                data-testid="volume"
                data-mm3={summary.volume}
                data-mm2={summary.area}
                data-from={rough ? "mesh" : summary.source}
              >
                {held}
              </b>
            </span>
            {mass && (
              <span>
                Mass <b data-testid="mass">{mass}</b>
              </span>
            )}
            <span>
              Box <b>{box(sides, unit)}</b>
            </span>
          </Box>
        );
      })}
      {many && <Box sx={{ fontSize: 13, color: colours.inkSoft }}>and {bodies.length - told.length} more bodies</Box>}
    </Box>
  );
}
