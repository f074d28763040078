import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { Step } from "../api/types";
import { useFloor } from "../floor/context";
import { colours } from "../theme/colours";
import type { WayDrawn } from "./wayDrawn";

interface Props {
  step: Step;
  /** The parameter that is chosen. */
  path: string;
  title: string;
  ways: WayDrawn[];
}

/** A parameter of a few ways, each told by a small picture. The first is what it is where nothing else was said. */
export function DrawnChoice({ step, path, title, ways }: Props) {
  const { change } = useFloor();
  const chosen = (step.params[path] as string | undefined) ?? ways[0]?.value;
  return (
    <Box sx={{ mb: 1 }}>
      <Box component="span" id={`${step.id}-${path}`} sx={{ fontSize: 14 }}>
        {title}
      </Box>
      <ToggleButtonGroup
        exclusive
        fullWidth
        value={chosen}
        aria-labelledby={`${step.id}-${path}`}
        onChange={(_, value: string | null) => {
          if (value) void change([{ do: "set-param", step: step.id, path: [path], value }]);
        }}
        sx={{ mt: 0.5 }}
      >
        {ways.map((way) => (
          <ToggleButton
            key={way.value}
            value={way.value}
            title={way.tells}
            sx={{
              flexDirection: "column",
              gap: 0.25,
              py: 0.5,
              textTransform: "none",
              fontSize: 12,
              lineHeight: 1.3,
              color: colours.inkSoft,
            }}
          >
            <Box component="svg" viewBox="0 0 44 30" aria-hidden sx={{ width: 44, height: 30, fill: "none" }}>
              <path d={way.path} stroke={colours.estuary} strokeWidth={1.4} />
              <path d={way.ink} stroke={colours.ink} strokeWidth={1.6} strokeLinecap="round" />
            </Box>
            {way.word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}
