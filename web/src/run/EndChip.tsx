import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import Select from "@mui/material/Select";
import { useState } from "react";
import type { Edit, Step } from "../api/types";
import { useBuilt, useDocument, useFloor } from "../floor/context";
import { NumberField } from "../sheet/NumberField";
import { gives } from "../steps/registry";
import { colours } from "../theme/colours";

interface EndParams {
  shape?: string;
  angle?: number | string;
  fullness?: number | string;
  /** The body that this end goes on from. */
  onto?: { step: string } | null;
}

const WORDS: Record<string, string> = {
  free: "Free",
  square: "Square",
  angle: "At an angle",
  domed: "Domed",
  tangent: "Tangent to a body",
  curvature: "Curved like a body",
};
/** On the chip there is room for a word. */
const SHORT: Record<string, string> = { angle: "Angle", tangent: "Tangent", curvature: "Curved" };
const goesOn = (shape: string) => shape === "tangent" || shape === "curvature";

/** What is asked of the body at one of its ends, with how full. At a point: sharp or domed. */
export function EndChip({ body, side, point }: { body: Step; side: "start" | "end"; point: boolean }) {
  const { change } = useFloor();
  const { steps } = useDocument();
  const values = useBuilt((built) => built.steps[body.id]?.values);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const end = (body.params[side] ?? {}) as EndParams;
  const straight = body.params["between"] === "straight";
  const earlier = steps.slice(
    0,
    steps.findIndex((step) => step.id === body.id),
  );
  const bodies = earlier.filter((step) => gives(step, "body"));
  const near = bodies.length ? ["tangent", "curvature"] : [];
  const choices = point ? ["free", "domed"] : ["free", "square", "angle", ...near];
  const shape = choices.includes(end.shape ?? "free") ? (end.shape ?? "free") : "free";
  const title = (name: string) => (point && name === "free" ? "Sharp" : (WORDS[name] ?? name));
  const edit = (path: string, value: unknown): Edit => ({ do: "set-param", step: body.id, path: [side, path], value });
  const set = (path: string, value: unknown) => change([edit(path, value)]);
  const choose = (next: string) =>
    change([
      // the body that was made last is the one that it stands on, mostly
      ...(goesOn(next) && !end.onto ? [edit("onto", { step: bodies.at(-1)?.id })] : []),
      edit("shape", next),
    ]);
  const where = side === "start" ? "Start" : "End";
  return (
    <>
      <Button
        variant="outlined"
        aria-haspopup="dialog"
        aria-label={`${title(shape)}: the ${side} of the body`}
        disabled={straight}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          position: "absolute",
          top: 100,
          [side === "start" ? "left" : "right"]: side === "start" ? 108 : 10,
          px: 0.75,
          py: 0,
          fontSize: 12,
          maxWidth: 58,
          lineHeight: 1.4,
          borderColor: shape === "free" ? colours.hairline : colours.estuary,
          zIndex: 1,
        }}
      >
        {straight ? "Straight" : (SHORT[shape] ?? title(shape))}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "top", horizontal: "center" }}
        transformOrigin={{ vertical: "bottom", horizontal: "center" }}
        slotProps={{ paper: { role: "dialog", "aria-label": `${where} of the body` } }}
      >
        <Box sx={{ p: 1.5, display: "grid", gap: 1, width: 250 }}>
          <Select
            value={shape}
            onChange={(event) => void choose(event.target.value)}
            inputProps={{ "aria-label": `${where} shape` }}
          >
            {choices.map((name) => (
              <MenuItem key={name} value={name}>
                {title(name)}
              </MenuItem>
            ))}
          </Select>
          {goesOn(shape) && (
            <Select
              value={end.onto?.step ?? ""}
              displayEmpty
              onChange={(event) => void set("onto", { step: event.target.value })}
              inputProps={{ "aria-label": "Goes on from" }}
            >
              {bodies.map(({ id, name }) => (
                <MenuItem key={id} value={id}>
                  {name}
                </MenuItem>
              ))}
            </Select>
          )}
          {shape === "angle" && (
            <NumberField
              label="Leaning out"
              kind="angle"
              value={end.angle ?? 0}
              worth={values?.[`${side}.angle`]}
              onKeep={(value) => set("angle", value)}
            />
          )}
          {shape !== "free" && (
            <NumberField
              label="Fullness"
              kind="number"
              value={end.fullness ?? 1}
              worth={values?.[`${side}.fullness`]}
              onKeep={(value) => set("fullness", value)}
            />
          )}
        </Box>
      </Popover>
    </>
  );
}
