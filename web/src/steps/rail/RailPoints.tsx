import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import type { Step } from "../../api/types";
import { useBuilt, useDocument, useFloor, useStatus } from "../../floor/context";
import { railPoints, railSummary, setPoints, withPoint, type RailPoint, type Triple } from "./rails";
import { handleAt } from "./useRailPull";
import { colours } from "../../theme/colours";
import { numbers } from "../../theme/theme";
import { NumberField } from "../../sheet/NumberField";
import { Sign } from "../../app/Sign";

const TIGHT = { minWidth: 0, px: 0.75 } as const;

/** The points of a rail: on sections or anywhere, each with a handle if wanted. All of it can be pulled in the scene too. */
export function RailPoints({ step }: { step: Step }) {
  const { change } = useFloor();
  const points = railPoints(step);
  const summary = railSummary(useStatus(step.id));
  const keep = (next: RailPoint[]) => change(setPoints(step.id, next));
  const add = () => {
    const [a, b] = [summary?.through.at(-2), summary?.through.at(-1)];
    if (!a || !b) return;
    const middle = a.map((v, k) => Math.round(((v + (b[k] ?? 0)) / 2) * 100) / 100);
    void keep([...points.slice(0, -1), { at: middle }, ...points.slice(-1)]);
  };
  return (
    <Box role="group" aria-label="Points" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="body2" color="text.secondary">
        Pull the rings in the scene: a point on a section runs round it, a free one goes where it is pulled, and onto a
        section it comes near.
      </Typography>
      {points.map((point, i) => (
        <Point
          key={i}
          step={step}
          number={i}
          point={point}
          through={summary?.through ?? []}
          length={summary?.length ?? 80}
          onKeep={(changes) => keep(withPoint(points, i, changes))}
          onRemove={points.length > 2 ? () => void keep(points.filter((_, k) => k !== i)) : null}
        />
      ))}
      <Button variant="outlined" onClick={add} sx={{ justifySelf: "start" }}>
        Add a point
      </Button>
    </Box>
  );
}

function Point(props: {
  step: Step;
  number: number;
  point: RailPoint;
  through: readonly Triple[];
  length: number;
  onKeep: (changes: Partial<RailPoint>) => Promise<unknown>;
  onRemove: (() => void) | null;
}) {
  const { step, number, point, through, length, onKeep, onRemove } = props;
  const { steps } = useDocument();
  const values = useBuilt((built) => built.steps[step.id]?.values);
  const name = `Point ${number + 1}`;
  const on = steps.find((s) => s.id === point.on?.section.step);
  const worth = (...path: (string | number)[]) => values?.[["shape", "points", number, ...path].join(".")];
  const here = through[number];
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{ display: "grid", gap: 0.5, borderLeft: `2px solid ${colours.estuary}`, pl: 1 }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
        <Box component="span" sx={{ fontSize: 14, mr: "auto" }}>
          <Box component="b" sx={numbers}>
            {number + 1}
          </Box>{" "}
          {on ? `on ${on.name}` : "free"}
        </Box>
        {on && here && (
          <Button
            variant="text"
            sx={TIGHT}
            onClick={() => void onKeep({ on: null, at: here.map((v) => Math.round(v * 1e3) / 1e3) })}
          >
            Let go
          </Button>
        )}
        <Button
          variant="text"
          sx={TIGHT}
          aria-pressed={point.sharp ?? false}
          onClick={() => void onKeep({ sharp: !point.sharp })}
        >
          {point.sharp ? "Sharp" : "Smooth"}
        </Button>
        <IconButton
          size="small"
          aria-label={`Remove ${name.toLowerCase()}`}
          disabled={!onRemove}
          onClick={() => onRemove?.()}
        >
          <Sign of="remove" />
        </IconButton>
      </Box>
      <Box sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
        {point.on ? (
          <Box sx={{ flex: 1 }}>
            <NumberField
              label="Way round"
              kind="number"
              value={point.on.at}
              worth={worth("on", "at")}
              onKeep={(at) => onKeep({ on: { section: point.on?.section ?? { step: "" }, at } })}
            />
          </Box>
        ) : (
          <Three
            name={name}
            values={point.at ?? [0, 0, 0]}
            worth={(k) => worth("at", k)}
            onKeep={(at) => onKeep({ at })}
          />
        )}
        <Button
          variant="text"
          sx={TIGHT}
          aria-pressed={Boolean(point.handle)}
          onClick={() => void onKeep({ handle: point.handle ? null : handleAt(through, number, length) })}
        >
          Handle
        </Button>
      </Box>
      {point.handle && (
        <Three
          name={`Handle of ${name.toLowerCase()}`}
          values={point.handle}
          worth={(k) => worth("handle", k)}
          onKeep={(handle) => onKeep({ handle })}
        />
      )}
    </Box>
  );
}

function Three(props: {
  name: string;
  values: readonly (number | string)[];
  worth: (axis: number) => number | undefined;
  onKeep: (values: (number | string)[]) => Promise<unknown>;
}) {
  const { name, values, worth, onKeep } = props;
  return (
    <Box sx={{ display: "grid", flex: 1, gridTemplateColumns: "repeat(3, 1fr)", gap: 0.5 }}>
      {values.map((value, k) => (
        <NumberField
          key={k}
          hideLabel
          label={`${name} ${"xyz"[k]}`}
          kind="length"
          value={value}
          worth={worth(k)}
          onKeep={(typed) => onKeep(values.map((old, i) => (i === k ? typed : old)))}
        />
      ))}
    </Box>
  );
}
