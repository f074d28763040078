import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import type { Step } from "../../api/types";
import { Sign } from "../../app/Sign";
import { useBuilt, useFloor } from "../../floor/context";
import type { EdgeSet } from "../../sheet/EdgeSets";
import { NumberField } from "../../sheet/NumberField";

interface RadiusAt {
  at: number | string;
  radius: number | string;
}

/** Radii at places along the edges of a set, shares of their length from 0 to 1: smooth between them. */
export function RadiiAlong({ step, set, number }: { step: Step; set: EdgeSet; number: number }) {
  const { change } = useFloor();
  const values = useBuilt((built) => built.steps[step.id]?.values);
  const places = (set["along"] ?? []) as RadiusAt[];
  const path = ["sets", number, "along"];
  const keep = (next: RadiusAt[]) => change([{ do: "set-param", step: step.id, path, value: next }]);
  // one number alone: another that is on its way stays as it was typed
  const one = (i: number, name: keyof RadiusAt, value: number | string) =>
    change([{ do: "set-param", step: step.id, path: [...path, i, name], value }]);
  const radius = (set["radius"] ?? 2) as number | string;
  const worth = (i: number, name: string) => values?.[[...path, i, name].join(".")];
  if (!places.length)
    return (
      <Button
        variant="text"
        onClick={() =>
          void keep([
            { at: 0, radius },
            { at: 1, radius },
          ])
        }
        sx={{ justifySelf: "start" }}
      >
        Let the radius change along them
      </Button>
    );
  return (
    <Box role="group" aria-label="Radii along the edges" sx={{ display: "grid", gap: 0.5 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 24px", gap: 0.5, fontSize: 12 }}>
        <span>Share of the length</span>
        <span>Radius</span>
      </Box>
      {places.map((place, i) => (
        <Box key={i} sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 24px", gap: 0.5, alignItems: "center" }}>
          <NumberField
            hideLabel
            label={`Place ${i + 1}`}
            kind="number"
            value={place.at}
            worth={worth(i, "at")}
            onKeep={(at) => one(i, "at", at)}
          />
          <NumberField
            hideLabel
            label={`Radius ${i + 1}`}
            kind="length"
            value={place.radius}
            worth={worth(i, "radius")}
            onKeep={(wanted) => one(i, "radius", wanted)}
          />
          <IconButton
            size="small"
            aria-label={`Remove place ${i + 1}`}
            onClick={() => void keep(places.length > 2 ? places.filter((_, k) => k !== i) : [])}
          >
            <Sign of="remove" />
          </IconButton>
        </Box>
      ))}
      <Button variant="text" onClick={() => void keep(withMiddle(places))} sx={{ justifySelf: "start" }}>
        Add a place
      </Button>
    </Box>
  );
}

/** One more in the middle of the widest gap, as large as the one before it. */
function withMiddle(places: RadiusAt[]): RadiusAt[] {
  const at = (i: number) => Number(places[i]?.at) || 0;
  let widest = 1;
  for (let i = 2; i < places.length; i++) if (at(i) - at(i - 1) > at(widest) - at(widest - 1)) widest = i;
  const middle = Math.round(50 * (at(widest - 1) + at(widest))) / 100;
  const radius = places[widest - 1]?.radius ?? 2;
  return [...places.slice(0, widest), { at: middle, radius }, ...places.slice(widest)];
}
