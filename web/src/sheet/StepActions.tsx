import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Step } from "../api/types";
import { useDocument, useFloor, usePlace, useStatus } from "../floor/context";
import { removeStep } from "../floor/removeStep";
import { dependents, removal } from "../steps/removal";

/** What can be done with any step: skip it, build up to it, move it in the order, remove it with what hangs on it. */
export function StepActions({ step }: { step: Step }) {
  const floor = useFloor();
  const { change, place, live } = floor;
  const document = useDocument();
  const asking = usePlace((p) => p.asking) === step.id;
  const { steps } = document;
  const at = steps.findIndex((s) => s.id === step.id);
  const changes = useStatus(step.id)?.changes ?? [];
  const followers = dependents(document, step, changes);
  const move = (before: string | null) => void change([{ do: "move-step", step: step.id, before }]);
  const remove = (withFollowers: boolean) => {
    place.setState({ selected: null, asking: null });
    void change((now) => removal(now, step, withFollowers, changes, live.built.getState().steps));
  };
  return (
    <Box sx={{ display: "grid", gap: 1, pt: 0.5 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        <Button variant="outlined" onClick={() => void change([{ do: "skip-step", step: step.id, skip: !step.skip }])}>
          {step.skip ? "Build it again" : "Skip"}
        </Button>
        {document.until === step.id ? (
          <Button variant="outlined" onClick={() => void change([{ do: "build-up-to", step: null }])}>
            Build to the end
          </Button>
        ) : (
          <Button variant="outlined" onClick={() => void change([{ do: "build-up-to", step: step.id }])}>
            Build up to here
          </Button>
        )}
        <Button variant="outlined" disabled={at <= 0} onClick={() => move(steps[at - 1]?.id ?? null)}>
          Earlier
        </Button>
        <Button variant="outlined" disabled={at >= steps.length - 1} onClick={() => move(steps[at + 2]?.id ?? null)}>
          Later
        </Button>
        <Button variant="outlined" onClick={() => removeStep(floor, document, step, changes)}>
          Remove
        </Button>
      </Box>
      {asking && (
        <Box role="alertdialog" aria-label={`Remove ${step.name}`} sx={{ display: "grid", gap: 1 }}>
          <Typography variant="body2">
            {followers.map((s) => s.name).join(", ")} {followers.length > 1 ? "build" : "builds"} on it.
          </Typography>
          <Box sx={{ display: "flex", gap: 1 }}>
            <Button variant="contained" color="error" onClick={() => remove(true)}>
              Remove them too
            </Button>
            <Button variant="outlined" onClick={() => remove(false)}>
              Only this
            </Button>
            <Button variant="text" onClick={() => place.setState({ asking: null })}>
              Leave it
            </Button>
          </Box>
        </Box>
      )}
    </Box>
  );
}
