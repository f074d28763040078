import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { problemOf } from "../api/problems";
import { useDocument } from "../floor/context";
import { box, millimetres, trimmed } from "../model/units";
import { TypedFields } from "../sheet/TypedFields";
import { colours } from "../theme/colours";
import type { Landing } from "./useLanding";
import type { Underlay } from "./useUnderlay";

const UNITS = ["mm", "cm", "m", "in"] as const;

/** What would come in from a file, as it would lie: it is pulled over the sheet. */
export function LandingGhost({ landing: { looked, shift } }: { landing: Landing }) {
  if (!looked) return null;
  return (
    <g data-testid="landing" transform={`translate(${shift.join(" ")})`} pointerEvents="none">
      {looked.paths.map((d, i) => (
        <path key={i} d={d} stroke={colours.buoy} strokeWidth={1.8} vectorEffect="non-scaling-stroke" />
      ))}
    </g>
  );
}

/** What a file holds, with what it is given on its way in. */
export function LandingCard({ landing, marks }: { landing: Landing; marks: Underlay["marks"] }) {
  const { unit } = useDocument();
  const { file, looked, why, fields, texts, setTexts, told, choice, setChoice, leave, take, ready } = landing;
  const card = useRef<HTMLDivElement>(null);
  // the first number is ready to be typed
  useEffect(() => card.current?.querySelector("input")?.focus(), [file]);
  if (!file) return null;
  const pairs = landing.foil ? pairsOf(marks) : [];
  const named = looked?.layers.filter((layer) => layer !== "") ?? [];
  const shown = fields.map((field) =>
    field.name === "chord" && looked?.asks_chord ? { ...field, hint: "type it" } : field,
  );
  return (
    <Box
      ref={card}
      component="section"
      aria-label="Bringing in"
      sx={{
        position: "absolute",
        left: 12,
        top: 12,
        width: 268,
        p: "8px 12px 10px",
        display: "grid",
        gap: 1,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderLeft: `3px solid ${colours.buoy}`,
        borderRadius: "2px 8px 8px 2px",
        zIndex: 2,
      }}
    >
      <Typography variant="h3" sx={{ overflowWrap: "anywhere" }}>
        {file.name}
      </Typography>
      <Typography variant="body2" role="status" sx={{ color: why ? colours.brick : colours.inkSoft }}>
        {why ? problemOf(why).detail : looked ? inWords(looked, unit) : "Reading it"}
      </Typography>
      {looked?.asks_chord && (
        <Typography variant="body2">
          This foil is written for a chord of 1. It is shown 100 mm long: type the chord that it is to have.
        </Typography>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 0.75 }}>
        <TypedFields
          fields={shown}
          texts={texts}
          told={told}
          onChange={setTexts}
          width="100%"
          onEnter={() => void (ready && take())}
        />
        {looked?.says_unit === false && (
          <TextField
            select
            size="small"
            label="Its numbers are"
            value={choice.unit}
            onChange={(event) => setChoice({ ...choice, unit: event.target.value as (typeof UNITS)[number] })}
          >
            {UNITS.map((name) => (
              <MenuItem key={name} value={name}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        )}
      </Box>
      {pairs.map(([nose, tail]) => (
        <Button key={`${nose.id} ${tail.id}`} variant="outlined" onClick={() => landing.between(nose.at, tail.at)}>
          Nose on {nose.name}, tail on {tail.name}
        </Button>
      ))}
      {named.length > 1 && (
        <Box role="group" aria-label="Layers" sx={{ display: "grid", maxHeight: 120, overflow: "auto" }}>
          {named.map((layer) => (
            <FormControlLabel
              key={layer}
              label={layer}
              control={
                <Checkbox
                  size="small"
                  sx={{ py: 0.25 }}
                  checked={!choice.out.includes(layer)}
                  onChange={(_, on) =>
                    setChoice({
                      ...choice,
                      out: on ? choice.out.filter((other) => other !== layer) : [...choice.out, layer],
                    })
                  }
                />
              }
            />
          ))}
        </Box>
      )}
      <FormControlLabel
        label="In place of what is drawn"
        control={
          <Checkbox
            size="small"
            sx={{ py: 0.25 }}
            checked={choice.instead}
            onChange={(_, instead) => setChoice({ ...choice, instead })}
          />
        }
      />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={!ready} onClick={() => void take()}>
          Take it
        </Button>
        <Button variant="text" onClick={leave}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}

/** Rails to lie between, either way round: the first two that pass, for more would fill the card. */
function pairsOf([first, second]: Underlay["marks"]): [Mark, Mark][] {
  return first && second
    ? [
        [first, second],
        [second, first],
      ]
    : [];
}

type Mark = Underlay["marks"][number];

/** How much there is, how large, and how near to the file. */
function inWords(looked: NonNullable<Landing["looked"]>, unit: Parameters<typeof millimetres>[0]): string {
  const [[ax, ay], [bx, by]] = looked.box;
  const size = box([bx - ax, by - ay], unit);
  const within =
    looked.deviation > 0 ? `, within ${trimmed(Math.max(looked.deviation, 1e-4) / millimetres(unit), 4)} ${unit}` : "";
  return `${looked.curves} ${looked.curves === 1 ? "curve" : "curves"} through ${looked.points} points, ${size}${within}`;
}
