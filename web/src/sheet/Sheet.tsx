import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import type { Step } from "../api/types";
import { NameField } from "../app/NameField";
import { useBuilt, useDocument, useFindings, useFloor, usePlace, useStep } from "../floor/context";
import { isDrawnOn, stationOf } from "../model/outline";
import { Copies } from "./Copies";
import { BodyFacts } from "./BodyFacts";
import { FindingCard } from "./FindingCard";
import { LoftSections } from "./LoftSections";
import { RailSheet } from "./RailSheet";
import { SchemaForm } from "./SchemaForm";
import { SectionFacts } from "./SectionFacts";
import { StationPlace } from "./StationPlace";
import { StepActions } from "./StepActions";

/** Parameters that are set elsewhere: in lists of their own, or on the Run. */
const LEFT_OUT = ["sections", "start", "end", "twist", "width", "height", "together", "plane", "place", "picture"];
const TITLES: Record<string, string> = {
  loft: "Loft",
  section: "Section",
  station: "Station",
  rail: "Rail",
  picture: "Reference picture",
};

/** The selected step: what goes into it, its numbers, and what is to be said of it. */
export const Sheet = memo(function Sheet() {
  const selected = usePlace((p) => p.selected);
  const step = useStep(selected);
  if (!step) {
    return (
      <Box sx={{ p: 2, display: "grid", gap: 1 }}>
        <Typography variant="h2">Nothing selected</Typography>
        <Typography variant="body2" color="text.secondary">
          Pick a section on the Run, in the scene or in the Build, and its numbers stand here.
        </Typography>
        <OpenFindings />
      </Box>
    );
  }
  return <StepSheet key={step.id} step={step} />;
});

function StepSheet({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const findings = useFindings(step.id);
  const station = useStep(step.kind === "section" ? stationOf(step) : null);
  return (
    <Box sx={{ p: 2, display: "grid", gap: 1.5 }}>
      <Box>
        <Typography variant="body2" color="text.secondary">
          {TITLES[step.kind] ?? step.kind}
        </Typography>
        <NameField
          size={18}
          label="Name of the step"
          value={step.name}
          onKeep={(name) => void change([{ do: "rename-step", step: step.id, name }])}
        />
      </Box>
      {findings.map((finding) => (
        <FindingCard key={`${finding.code}${finding.title}`} finding={finding} />
      ))}
      {station && (
        <>
          <SchemaForm step={station} leave={["plane", "place", "flip"]} />
          <Button
            variant="text"
            onClick={() => place.setState({ selected: station.id })}
            sx={{ justifySelf: "start", my: -0.5 }}
          >
            Open {station.name}
          </Button>
        </>
      )}
      {step.kind === "loft" && <LoftSections step={step} />}
      {step.kind === "station" && <StationPlace step={step} />}
      {step.kind === "rail" ? (
        <RailSheet step={step} />
      ) : (
        <SchemaForm step={step} leave={step.params["about"] === "riding" ? LEFT_OUT : [...LEFT_OUT, "riding"]} />
      )}
      {isDrawnOn(step) && (
        <Button variant="contained" onClick={() => place.setState({ board: step.id })} sx={{ justifySelf: "start" }}>
          Draw on the board
        </Button>
      )}
      {step.kind === "section" && <SectionFacts step={step} />}
      {step.kind === "section" && <Copies step={step} />}
      {step.kind === "loft" && <BodyFacts step={step} />}
      <StepActions step={step} />
    </Box>
  );
}

/** What needs the designer anywhere in the design. */
function OpenFindings() {
  const { place } = useFloor();
  const { steps } = useDocument();
  const statuses = useBuilt((built) => built.steps);
  const found = steps.flatMap((step) => {
    const worst = statuses[step.id]?.findings.find((finding) => finding.severity === "error");
    return worst ? [{ step, worst }] : [];
  });
  return found.map(({ step, worst }) => (
    <Box key={step.id} sx={{ display: "grid", gap: 0.5 }}>
      <FindingCard finding={worst} />
      <Button variant="text" onClick={() => place.setState({ selected: step.id })} sx={{ justifySelf: "start" }}>
        Open {step.name}
      </Button>
    </Box>
  ));
}
