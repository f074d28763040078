import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { DesignDocument, Edit, Step } from "../api/types";
import { useDocument, useFloor, useStatus } from "../floor/context";
import { stationOf } from "../model/outline";
import { gives, kindOf } from "../steps/registry";

/** What can be done with any step: skip it, build up to it, move it in the order, remove it with what hangs on it. */
export function StepActions({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const document = useDocument();
  const [asking, setAsking] = useState(false);
  const { steps } = document;
  const at = steps.findIndex((s) => s.id === step.id);
  const changes = useStatus(step.id)?.changes ?? [];
  const followers = dependents(document, step, changes);
  const move = (before: string | null) => void change([{ do: "move-step", step: step.id, before }]);
  const remove = (withFollowers: boolean) => {
    place.setState({ selected: null });
    void change((now) => removal(now, step, withFollowers, changes));
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
        <Button variant="outlined" onClick={() => (followers.length ? setAsking(true) : remove(false))}>
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
            <Button variant="text" onClick={() => setAsking(false)}>
              Leave it
            </Button>
          </Box>
        </Box>
      )}
    </Box>
  );
}

const refersTo = (value: unknown, ids: ReadonlySet<string>): boolean =>
  Array.isArray(value)
    ? value.some((item) => refersTo(item, ids))
    : typeof value === "object" &&
      value !== null &&
      (ids.has(String((value as { step?: unknown }).step)) || Object.values(value).some((v) => refersTo(v, ids)));

/** Steps that can't do without this one, in their order. What changed a body hands it through: what uses it goes on with that. */
function dependents({ steps }: DesignDocument, step: Step, changes: readonly string[]): Step[] {
  if (changes.length) return [];
  const gone = new Set([step.id]);
  const found: Step[] = [];
  for (const other of steps) {
    if (gone.has(other.id) || !refersTo(other.params, gone) || kindOf(other).without?.(other, gone)) continue;
    gone.add(other.id);
    found.push(other);
  }
  return found;
}

/** The edits that remove a step: what can do without it does, a station that only this section stood on goes with it. */
function removal(document: DesignDocument, step: Step, withFollowers: boolean, changes: readonly string[]): Edit[] {
  const gone = [step, ...(withFollowers ? dependents(document, step, changes) : [])];
  const ids = new Set(gone.map((s) => s.id));
  const others = document.steps.filter((s) => !ids.has(s.id));
  const edits: Edit[] = changes.length ? [] : others.flatMap((s) => kindOf(s).without?.(s, ids) ?? []);
  edits.push(...gone.toReversed().map((s): Edit => ({ do: "remove-step", step: s.id })));
  const station = gives(step, "section") ? stationOf(step) : "";
  const shared = others.some((s) => refersTo(s.params, new Set([station])));
  if (station && !shared) edits.push({ do: "remove-step", step: station });
  return edits;
}
