import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Edit, Step } from "../../api/types";
import { useBuilt, useDocument, useFloor } from "../../floor/context";
import { gives } from "../registry";
import { originalOf, stationOf } from "../../model/outline";
import { Picker } from "../../sheet/SchemaForm";

const NEW = "new";
const FURTHER = 20;

/** A section copied to another station, linked or free; and of a linked copy, the way to its original and out of the link. */
export function Copies({ step }: { step: Step }) {
  const { change, place, live } = useFloor();
  const { steps } = useDocument();
  const stations = steps.filter((s) => gives(s, "station") && s.id !== stationOf(step));
  const linked = (step.params["shape"] as { type?: string } | undefined)?.type === "copied";
  const original = originalOf(steps, step.id);
  const bare = useBuilt((built) => built.steps[stationOf(step)]?.summary);
  const copy = async (station: string, link: boolean) => {
    const shape = link ? { type: "copied", section: { step: step.id } } : step.params["shape"];
    const moved = link ? {} : { at: step.params["at"], turn: step.params["turn"] };
    const params = Object.fromEntries(
      Object.entries({ station: { step: station === NEW ? "$station" : station }, shape, ...moved }).filter(
        ([, value]) => value !== undefined,
      ),
    );
    const own = steps.find((s) => s.id === stationOf(step));
    const offset = bare?.result === "station" ? bare.offset : 0;
    const before = steps.find((s) => gives(s, "body"))?.id ?? null;
    const edits: Edit[] = [];
    if (station === NEW)
      edits.push({
        do: "add-step",
        kind: "station",
        name: `${step.name} copy station`,
        params: { ...own?.params, offset: offset + FURTHER },
        alias: "$station",
        before,
      });
    edits.push({ do: "add-step", kind: "section", name: `${step.name} copy`, params, before });
    const known = new Set(steps.map((s) => s.id));
    const kept = await change(edits);
    const made = kept?.document.steps.find((s) => gives(s, "section") && !known.has(s.id));
    if (made) place.setState({ selected: made.id });
  };
  const earlierStations = stations.filter((s) => live.built.getState().steps[s.id]?.state !== "failed");
  return (
    <Box role="group" aria-label="Copies" sx={{ display: "grid", gap: 1 }}>
      {linked && original && (
        <Box sx={{ display: "flex", gap: 0.75 }}>
          <Button variant="contained" onClick={() => void change([{ do: "release-copy", step: step.id }])}>
            Release from {original.name}
          </Button>
          <Button variant="outlined" onClick={() => place.setState({ board: original.id })}>
            Draw {original.name}
          </Button>
        </Box>
      )}
      {(["Linked copy", "Free copy"] as const).map((title) => (
        <Picker
          key={title}
          label={title}
          value=""
          choices={[
            { value: NEW, title: `on a new station, ${FURTHER} mm further` },
            ...earlierStations.map((s) => ({ value: s.id, title: `on ${s.name}` })),
          ]}
          onPick={(station) => copy(station, title === "Linked copy")}
        />
      ))}
    </Box>
  );
}
