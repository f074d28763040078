import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { queries } from "../api/queries";
import type { SeamOut } from "../api/types";
import { Sign } from "../app/Sign";
import { useActiveBody } from "../run/useActiveBody";
import { meetingReadings } from "../model/meeting";
import { partWords } from "../sheet/partWords";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { useDocument, useFloor, useHead, usePlace } from "./context";

/** How the faces of the body meet: every edge, and every section that its skin goes across, the worst first. */
export function MeetingPanel() {
  const { place } = useFloor();
  const open = usePlace((p) => p.meeting);
  if (!open)
    return (
      <Button
        size="small"
        variant="outlined"
        onClick={() => place.setState({ meeting: true })}
        sx={{ bgcolor: colours.panel }}
      >
        Continuity
      </Button>
    );
  return (
    <Box
      role="group"
      aria-label="Continuity"
      sx={{
        width: 244,
        maxHeight: 250,
        minHeight: 120,
        display: "flex",
        flexDirection: "column",
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
      }}
    >
      <Seams />
    </Box>
  );
}

function Seams() {
  const { place, id } = useFloor();
  const { revision } = useHead().design;
  const document = useDocument();
  const active = useActiveBody();
  const body = active?.group.body;
  const [shown, setShown] = useState<string | null>(null);
  const { data, error, isFetching } = useQuery({
    ...queries.continuity(id, revision, body?.id ?? ""),
    enabled: body !== undefined,
    retry: false,
  });
  // what is lit goes out with the list
  useEffect(() => () => place.setState({ lit: [], litNames: [] }), [place, revision]);
  const point = (seam: SeamOut) => {
    setShown(seam.name);
    place.setState({ lit: [seam.worst], litNames: seam.section ? [] : [seam.name] });
  };
  const steps = document.steps;
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "center", pl: 1.25, pr: 0.5, minHeight: 34 }}>
        <Typography variant="body2" noWrap sx={{ mr: "auto" }}>
          {body ? `Continuity of ${body.name}` : "There is no body to look at"}
        </Typography>
        <IconButton size="small" aria-label="Close continuity" onClick={() => place.setState({ meeting: false })}>
          <Sign of="remove" />
        </IconButton>
      </Box>
      {error && (
        <Typography variant="body2" sx={{ px: 1.25, pb: 1 }} role="status">
          It can't be told until the body is built: its sheet says what that takes.
        </Typography>
      )}
      {!data && isFetching && (
        <Typography variant="body2" sx={{ px: 1.25, pb: 1 }} role="status">
          Looking along every edge …
        </Typography>
      )}
      {data && (
        <Box component="ol" sx={{ m: 0, p: 0, overflow: "auto", opacity: isFetching ? 0.6 : 1 }} tabIndex={0}>
          {data.map((seam, i) => (
            <Box
              component="li"
              key={`${seam.name} ${i}`}
              sx={{ listStyle: "none", borderTop: `1px solid ${colours.hairline}` }}
            >
              <Box
                component="button"
                type="button"
                aria-pressed={shown === seam.name}
                onClick={() => point(seam)}
                sx={{
                  all: "unset",
                  boxSizing: "border-box",
                  width: "100%",
                  display: "grid",
                  gridTemplateColumns: "32px minmax(0, 1fr)",
                  px: 1.25,
                  py: 0.375,
                  cursor: "pointer",
                  fontSize: 12.5,
                  lineHeight: 1.3,
                  bgcolor: shown === seam.name ? colours.estuaryWash : "transparent",
                  "&:hover": { bgcolor: colours.estuaryWash },
                  "&:focus-visible": { outline: `2px solid ${colours.estuary}`, outlineOffset: -2 },
                }}
              >
                <Box component="span" sx={{ ...numbers, color: GRADES[seam.grade ?? -1]?.colour }}>
                  {GRADES[seam.grade ?? -1]?.word}
                </Box>
                <span>
                  {seam.section
                    ? `across ${steps.find((step) => step.id === seam.name)?.name ?? "a section"}`
                    : partWords(seam.name, document)}
                  <Box component="span" sx={{ ...numbers, display: "block", color: "text.secondary", fontSize: 12 }}>
                    {meetingReadings(seam)}
                  </Box>
                </span>
              </Box>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}

/** By the class that a seam reaches; -1 where faces don't meet. */
const GRADES: Record<number, { word: string; colour: string }> = {
  [-1]: { word: "apart", colour: colours.brick },
  0: { word: "G0", colour: colours.ink },
  1: { word: "G1", colour: colours.ink },
  2: { word: "G2", colour: colours.estuary },
};
