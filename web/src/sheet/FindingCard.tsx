import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { memo } from "react";
import { api } from "../api/client";
import type { Finding } from "../api/types";
import { useFloor } from "../floor/context";
import { Sign } from "../app/Sign";
import { colours } from "../theme/colours";

const LOOK = {
  note: { word: "Note", wash: colours.estuaryWash, line: colours.estuary },
  warning: { word: "Look at this", wash: colours.amberWash, line: colours.amberLine },
  error: { word: "Needs you", wash: colours.brickWash, line: colours.brick },
} as const;

/** A finding in the words of a colleague, the place lit up on pointing, the repair one click away. Drawn anew when it says something else. */
export const FindingCard = memo(Card, ({ finding: was }, { finding: now }) => was === now || alike(was, now));

const alike = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

function Card({ finding }: { finding: Finding }) {
  const { id, change, place } = useFloor();
  const look = LOOK[finding.severity];
  const points = finding.where?.points ?? [];
  const light = (on: boolean) => {
    const names = finding.where?.names ?? [];
    place.setState({ lit: on ? points : [], hovered: on ? (names[0] ?? null) : null, litNames: on ? names : [] });
  };
  return (
    <Box
      role={finding.severity === "error" ? "alert" : "note"}
      data-code={finding.code}
      onPointerEnter={() => light(true)}
      onPointerLeave={() => light(false)}
      sx={{ bgcolor: look.wash, border: `1px solid ${look.line}`, borderRadius: 1, p: 1.25, fontSize: 14 }}
    >
      <b>
        <Sign of={finding.severity} label={look.word} /> {finding.title}
      </b>
      <Box sx={{ mt: 0.25 }}>{finding.detail}</Box>
      {(finding.fixes?.length ?? 0) > 0 && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
          {finding.fixes?.map((fix, i) => (
            <Button
              key={i}
              variant={i === 0 ? "contained" : "outlined"}
              onPointerEnter={() => fix.names?.length && place.setState({ litNames: fix.names, lit: [] })}
              onClick={() => {
                light(false);
                void (fix.again ? api.again(id) : change(fix.edits));
              }}
            >
              {fix.label}
            </Button>
          ))}
        </Box>
      )}
    </Box>
  );
}
