import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import type { Step } from "../api/types";
import { useBuilt, useFloor } from "../floor/context";
import { numbers } from "../theme/theme";
import { NumberField } from "./NumberField";
import { Sign } from "../app/Sign";

type Point = (number | string)[];

interface Props {
  step: Step;
  path: (string | number)[];
  points: Point[];
  /** How few and how many points there may be. */
  least: number;
  most: number;
}

/** Points in the plane or in space as a list of numbers: change, add, remove. */
export function PointsField({ step, path, points, least, most }: Props) {
  const { change } = useFloor();
  const values = useBuilt((built) => built.steps[step.id]?.values);
  const keep = (next: Point[]) => change([{ do: "set-param", step: step.id, path, value: next }]);
  const worth = (i: number, k: number): number => {
    const value = points[i]?.[k];
    return typeof value === "number" ? value : (values?.[[...path, i, k].join(".")] ?? 0);
  };
  const insertAfter = (i: number) => {
    const next = (i + 1) % points.length;
    const middle = (points[i] ?? []).map((_, k) => Math.round(((worth(i, k) + worth(next, k)) / 2) * 100) / 100);
    return keep([...points.slice(0, i + 1), middle, ...points.slice(i + 1)]);
  };
  return (
    <Box role="group" aria-label="Points" sx={{ display: "grid", gap: 0.5 }}>
      {points.map((point, i) => (
        <Box
          key={i}
          sx={{
            display: "grid",
            gridTemplateColumns: `18px repeat(${point.length}, 1fr) 24px`,
            gap: 0.5,
            alignItems: "center",
          }}
        >
          <Box component="span" sx={{ ...numbers, fontSize: 12 }}>
            {i + 1}
          </Box>
          {point.map((value, k) => (
            <NumberField
              key={k}
              hideLabel
              label={`Point ${i + 1} ${"xyz"[k]}`}
              kind="length"
              value={value}
              worth={worth(i, k)}
              onKeep={(typed) =>
                keep(points.map((old, j) => (j === i ? old.map((n, m) => (m === k ? typed : n)) : old)))
              }
            />
          ))}
          <IconButton
            size="small"
            aria-label={`Remove point ${i + 1}`}
            disabled={points.length <= Math.max(least, 2)}
            onClick={() => void keep(points.filter((_, j) => j !== i))}
          >
            <Sign of="remove" />
          </IconButton>
        </Box>
      ))}
      {points.length < most && (
        <Button variant="outlined" onClick={() => void insertAfter(points.length - 1)} sx={{ justifySelf: "start" }}>
          Add a point
        </Button>
      )}
    </Box>
  );
}
