import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState } from "react";
import type { BodySummary, Step } from "../api/types";
import { useDocument } from "../floor/context";
import { length } from "../model/units";
import type { Scale } from "./layout";
import { ReadLane } from "./ReadLane";

interface Props {
  body: Step;
  summary: BodySummary;
  scale: Scale;
  width: number;
  /** For each rail of the body how far it lies off the skin, mm. */
  offs: readonly (readonly (number | null)[])[];
}

/** Distances below this, mm, are none: the skin is on the rail. */
const NONE = 5e-4;

/** How far one rail lies off the skin: the one that does most, unless another was chosen. */
export function RailsLane({ body, offs, ...lane }: Props) {
  const { steps, unit } = useDocument();
  const [chosen, choose] = useState<number | null>(null);
  const most = offs.map((values) => Math.max(0, ...values.filter((value) => value !== null)));
  const shown = chosen !== null && chosen < offs.length ? chosen : most.indexOf(Math.max(...most));
  const refs = (body.params["rails"] ?? []) as { step: string }[];
  const nameOf = (number: number) => steps.find(({ id }) => id === refs[number]?.step)?.name ?? `${number + 1}`;
  return (
    <ReadLane
      {...lane}
      title="Off the rails"
      values={offs[shown] ?? []}
      zero={0}
      least={20 * NONE}
      say={(value) => (value < NONE ? "0" : length(value, unit))}
    >
      <Box sx={{ display: "block", fontSize: 12, fontWeight: 400 }}>
        <Select
          variant="standard"
          disableUnderline
          value={shown}
          onChange={(event) => choose(event.target.value)}
          inputProps={{ "aria-label": "Rail" }}
          sx={{ fontSize: 12, maxWidth: 120, "& .MuiSelect-select": { py: 0 } }}
        >
          {offs.map((_, number) => (
            <MenuItem key={number} value={number}>
              {nameOf(number)}
            </MenuItem>
          ))}
        </Select>
      </Box>
    </ReadLane>
  );
}
