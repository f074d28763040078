import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { Step } from "../api/types";
import { useFloor } from "../floor/context";
import { valueAtPath } from "../picking/answer";
import { colours } from "../theme/colours";
import type { WayDrawn } from "./wayDrawn";

interface Props {
  step: Step;
  /** The parameter that is chosen. */
  path: string | (string | number)[];
  title: string;
  ways: WayDrawn[];
}

/** A parameter of a few ways, each told by a small picture. The first is what it is where nothing else was said. */
export function DrawnChoice({ step, path, title, ways }: Props) {
  const { change } = useFloor();
  const way = typeof path === "string" ? [path] : path;
  const id = `${step.id}-${way.join("-")}`;
  const chosen = (valueAtPath(step, way) as string | undefined) ?? ways[0]?.value;
  return (
    <Box sx={{ mb: 1 }}>
      <Box component="span" id={id} sx={{ fontSize: 14 }}>
        {title}
      </Box>
      <ToggleButtonGroup
        exclusive
        fullWidth
        value={chosen}
        aria-labelledby={id}
        onChange={(_, value: string | null) => {
          if (value) void change([{ do: "set-param", step: step.id, path: way, value }]);
        }}
        sx={{ mt: 0.5 }}
      >
        {ways.map((one) => (
          <ToggleButton
            key={one.value}
            value={one.value}
            title={one.tells}
            sx={{
              flexDirection: "column",
              gap: 0.25,
              py: 0.5,
              px: 0.25,
              minWidth: 0,
              textTransform: "none",
              fontSize: 12,
              lineHeight: 1.3,
              color: colours.inkSoft,
            }}
          >
            <Box component="svg" viewBox="0 0 44 30" aria-hidden sx={{ width: 44, height: 30, fill: "none" }}>
              <path d={one.path} stroke={colours.estuary} strokeWidth={1.4} />
              <path d={one.ink} stroke={colours.ink} strokeWidth={1.6} strokeLinecap="round" />
            </Box>
            {one.word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}
