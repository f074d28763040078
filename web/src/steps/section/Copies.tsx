import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Edit, Step } from "../../api/types";
import { useBuilt, useDocument, useFloor, useStatus } from "../../floor/context";
import { gives } from "../registry";
import { originalOf, sectionSummary, stationOf } from "../../model/outline";
import { broughtBefore } from "../../model/order";
import { Picker } from "../../sheet/SchemaForm";

const NEW = "new";
const FURTHER = 20;

const spread = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);

/** A section copied to another station, linked or free; and of a linked copy, the way to its original and out of the link. */
export function Copies({ step }: { step: Step }) {
  const { change, place, live } = useFloor();
  const { steps } = useDocument();
  const stations = steps.filter((s) => gives(s, "station") && s.id !== stationOf(step));
  const shape = step.params["shape"] as { type?: string; rails?: { step: string }[] } | undefined;
  const linked = shape?.type === "copied";
  const original = originalOf(steps, step.id);
  const bare = useBuilt((built) => built.steps[stationOf(step)]?.summary);
  const copy = async (station: string, link: boolean) => {
    const copied = link ? { type: "copied", section: { step: step.id } } : shape;
    const moved = link ? {} : { at: step.params["at"], turn: step.params["turn"] };
    const params = Object.fromEntries(
      Object.entries({ station: { step: station === NEW ? "$station" : station }, shape: copied, ...moved }).filter(
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
  const summary = sectionSummary(useStatus(step.id));
  const fitted = shape?.rails?.length ? summary?.fitted : null;
  const set = (path: string[], value: unknown): Edit => ({ do: "set-param", step: step.id, path, value });
  /** The numbers by which it lies between its rails, as its own. */
  const standing = (): Edit[] =>
    fitted
      ? [
          set(["shape", "scale"], fitted.scale),
          set(["turn"], fitted.turn),
          set(["at"], fitted.at),
          set(["shape", "about"], [0, 0]),
          set(["shape", "rails"], []),
        ]
      : [];
  // a rail that goes through a point of this section can't hold it
  const rails = steps.filter((s) => gives(s, "rail") && broughtBefore(step.id, s.id, steps));
  const pairs = rails.flatMap((first, i) => rails.slice(i + 1).map((second) => [first, second] as const));
  const fit = (pair: string) => {
    const picked = pair.split(" ");
    const width = summary ? spread(summary.outline.map(([x]) => x)) : 1;
    const depth = summary ? spread(summary.outline.map(([, y]) => y)) : 0;
    return change([
      ...picked.flatMap((rail) => broughtBefore(step.id, rail, steps) ?? []),
      set(["shape", "ends"], width >= depth ? "sideways" : "upright"),
      set(
        ["shape", "rails"],
        picked.map((rail) => ({ step: rail })),
      ),
    ]);
  };
  const earlierStations = stations.filter((s) => live.built.getState().steps[s.id]?.state !== "failed");
  return (
    <Box role="group" aria-label="Copies" sx={{ display: "grid", gap: 1 }}>
      {linked && original && (
        <Box sx={{ display: "flex", gap: 0.75 }}>
          <Button
            variant="contained"
            onClick={() => void change([...standing(), { do: "release-copy", step: step.id }])}
          >
            Release from {original.name}
          </Button>
          <Button variant="outlined" onClick={() => place.setState({ board: original.id })}>
            Draw {original.name}
          </Button>
        </Box>
      )}
      {linked && pairs.length > 0 && !shape?.rails?.length && (
        <Picker
          label="Fit between two rails"
          value=""
          choices={pairs.map(([a, b]) => ({ value: `${a.id} ${b.id}`, title: `${a.name} and ${b.name}` }))}
          onPick={fit}
        />
      )}
      {fitted && (
        <Button variant="outlined" onClick={() => void change(standing())} sx={{ justifySelf: "start" }}>
          Keep these numbers, without the rails
        </Button>
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
