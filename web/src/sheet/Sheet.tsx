import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { createElement, memo, Suspense } from "react";
import { queries } from "../api/queries";
import type { Step } from "../api/types";
import { usePart } from "../app/later";
import { NameField } from "../app/NameField";
import { useBuilt, useDocument, useFloor, usePlace, useSaid, useStep } from "../floor/context";
import { isDrawnOn } from "../model/outline";
import { gives, kindOf, sheetOf } from "../steps/registry";
import { Copies } from "../steps/section/Copies";
import { SectionFacts } from "../steps/section/SectionFacts";
import { BodyFacts } from "./BodyFacts";
import { ReferenceFacts } from "./ReferenceFacts";
import { FindingCard } from "./FindingCard";
import { FairCard } from "./FairCard";
import { FinishCard } from "./FinishCard";
import { PickingCard } from "./PickingCard";
import { SchemaForm } from "./SchemaForm";
import { StepActions } from "./StepActions";
import { useFresh } from "./useFresh";

/** The selected step: what goes into it, its numbers, and what is to be said of it. */
export const Sheet = memo(function Sheet() {
  const selected = usePlace((p) => p.selected);
  const step = useStep(selected);
  const { isPending } = useQuery({ ...queries.kinds(), enabled: Boolean(step) });
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
  // all of it at once: forms that come later would push away what is about to be clicked
  if (isPending) return null;
  return (
    <Suspense key={step.id} fallback={null}>
      <StepSheet step={step} />
    </Suspense>
  );
});

function StepSheet({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const findings = useSaid(step.id);
  const holder = useFresh(step.id);
  const kind = kindOf(step);
  const own = usePart(sheetOf(step));
  return (
    <Box ref={holder} sx={{ p: 2, display: "grid", gap: 1.5 }}>
      <Box>
        <Typography variant="body2" color="text.secondary">
          {kind.title}
        </Typography>
        <NameField
          size={18}
          label="Name of the step"
          value={step.name}
          onKeep={(name) => void change([{ do: "rename-step", step: step.id, name }])}
        />
      </Box>
      {findings.map((finding) => (
        <FindingCard key={`${finding.step}${finding.code}${finding.title}`} finding={finding} />
      ))}
      <PickingCard step={step} />
      {own && createElement(own, { step })}
      <SchemaForm step={step} leave={kind.leave?.(step) ?? []} />
      {isDrawnOn(step) && (
        <Button variant="contained" onClick={() => place.setState({ board: step.id })} sx={{ justifySelf: "start" }}>
          Draw on the board
        </Button>
      )}
      {kind.fair?.(step) && <FairCard step={step} />}
      {gives(step, "section") && <SectionFacts step={step} />}
      {gives(step, "section") && <Copies step={step} />}
      {gives(step, "body") && <BodyFacts step={step} />}
      {gives(step, "reference") && <ReferenceFacts step={step} />}
      {gives(step, "body") && <FinishCard step={step} />}
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
