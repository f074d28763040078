import Box from "@mui/material/Box";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { queries } from "../../api/queries";
import type { MeasureSummary, Step } from "../../api/types";
import { useDocument, useFloor, useStatus } from "../../floor/context";
import { amountOf, measureOf, verdictInWords } from "../../model/measures";
import { length } from "../../model/units";
import { Facts } from "../../sheet/Facts";
import { SchemaFields } from "../../sheet/SchemaForm";
import type { Schema } from "../../sheet/schema";

const AIMS: Record<string, string> = {
  deg: "AngleAim",
  mm2: "AreaAim",
  mm3: "VolumeAim",
  g: "MassAim",
  mm: "LengthAim",
};
const UNITS: Record<string, MeasureSummary["unit"]> = {
  angle: "deg",
  area: "mm2",
  volume: "mm3",
  mass: "g",
  fill: "mm3",
};
/** mm2 or mm3 in what a target is counted in: cm2, cm3. */
const PER: Record<string, number> = { mm2: 100, mm3: 1000 };
const NAMES: Record<string, string> = {
  distance: "Distance",
  angle: "Angle",
  length: "Length",
  radius: "Smallest radius",
  area: "Area",
  volume: "Volume",
  mass: "Mass",
  fill: "Holds",
};

/** What is measured, what it comes to, and what it should be. */
export function Sheet({ step }: { step: Step }) {
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const { unit } = useDocument();
  const told = measureOf(useStatus(step.id));
  const of = step.params["of"] as { type: string };
  const mapping = root?.properties?.["of"]?.discriminator?.mapping ?? {};
  if (!root) return null;
  return (
    <>
      <SchemaFields step={step} path={["of"]} of={mapping[of.type] ?? ""} root={root} value={of} leave={["aim"]} />
      {told && <Facts facts={factsOf(told, unit)} />}
      <Aim step={step} root={root} kind={UNITS[of.type] ?? "mm"} told={told} />
    </>
  );
}

function factsOf(told: MeasureSummary, unit: ReturnType<typeof useDocument>["unit"]): [string, string][] {
  const { what, along, largest } = told;
  const found: [string, string][] = [[NAMES[what] ?? what, amountOf(told.unit, told.value, unit)]];
  if (along)
    found.push(...["x", "y", "z"].map((axis, i): [string, string] => [`Along ${axis}`, length(along[i] ?? 0, unit)]));
  if (largest != null && largest > told.value * (1 + 1e-6))
    found.push(["Largest radius", largest > 1e5 ? "straight" : length(largest, unit)]);
  if (told.chord) found.push(["May be off by", `${length(told.chord, unit)}: it goes to a mesh`]);
  if (told.verdict !== "none") found.push(["Against its aim", verdictInWords(told, unit)]);
  if (told.target != null && what === "fill")
    found.push([
      "Holds its aim up to",
      told.level_for_target == null ? "more than it holds" : length(told.level_for_target, unit),
    ]);
  return found;
}

/** What the number should be, and by how much it may be off: taken from what it is now. */
function Aim(props: { step: Step; root: Schema; kind: MeasureSummary["unit"]; told: MeasureSummary | null }) {
  const { step, root, kind, told } = props;
  const { change } = useFloor();
  const id = useId();
  const aim = (step.params["of"] as { aim?: object | null }).aim ?? null;
  const keep = (value: object | null) => change([{ do: "set-param", step: step.id, path: ["of", "aim"], value }]);
  const now = () => Number(((told?.value ?? 0) / (PER[kind] ?? 1)).toPrecision(4));
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 1 }}>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
        <Box component="label" htmlFor={id} sx={{ fontSize: 14 }}>
          It should be a certain size
        </Box>
        <Switch
          size="small"
          id={id}
          checked={aim !== null}
          disabled={aim === null && told === null}
          onChange={(event) => void keep(event.target.checked ? { target: now() } : null)}
        />
      </Box>
      {aim && <SchemaFields step={step} path={["of", "aim"]} of={`#/$defs/${AIMS[kind]}`} root={root} value={aim} />}
    </Box>
  );
}
