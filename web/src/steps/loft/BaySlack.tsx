import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import { useState } from "react";
import type { Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { numbers } from "../../theme/theme";
import { slackOf, withSlack } from "./sections";

const percent = (slack: number) => `${Math.round(100 * slack)} %`;

/** How much the skin may swell between two sections: the body follows while it is pulled. between: what the two are called. */
export function BaySlack({ step, bay, between }: { step: Step; bay: number; between: string }) {
  const { change, live } = useFloor();
  const { design } = useHead();
  const kept = slackOf(step, bay);
  const [pulled, setPulled] = useState<number | null>(null);
  const shown = pulled ?? kept;
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1.75,
        pl: 3.75,
        pr: 4.5,
        height: 22,
        fontSize: 12,
        color: "text.secondary",
      }}
    >
      <span aria-hidden>slack</span>
      <Slider
        size="small"
        min={0}
        max={1}
        step={0.05}
        value={shown}
        getAriaLabel={() => `Slack between ${between}`}
        getAriaValueText={percent}
        onChange={(_, value) => {
          setPulled(value as number);
          live.preview(design, withSlack(step, bay, value as number));
        }}
        onChangeCommitted={(_, value) => {
          if (value === kept) {
            live.preview(design, []);
            setPulled(null);
          } else void change(withSlack(step, bay, value as number)).then(() => setPulled(null));
        }}
      />
      <Box component="span" sx={{ ...numbers, minWidth: 40, textAlign: "right" }}>
        {percent(shown)}
      </Box>
    </Box>
  );
}
