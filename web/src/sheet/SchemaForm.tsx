import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import { useQuery } from "@tanstack/react-query";
import { useId, type ReactNode } from "react";
import { queries } from "../api/queries";
import type { DesignDocument, Edit, Step } from "../api/types";
import { useBuilt, useDocument, useFloor } from "../floor/context";
import { sectionSummary } from "../model/outline";
import { valueAtPath } from "../picking/answer";
import type { Result, Way } from "../steps/kind";
import { gives, kindOf } from "../steps/registry";
import { extent, SHAPES, starter, type ShapeType } from "../steps/section/starters";
import { labelled } from "../theme/theme";
import { NumberField } from "./NumberField";
import { PointsField } from "./PointsField";
import { RefField, RefList } from "./RefField";
import { resolved, valueAt, type Schema } from "./schema";

export type Path = (string | number)[];

export interface Field {
  step: Step;
  path: Path;
  schema: Schema;
  root: Schema;
  value: unknown;
}

/** The parameters of a step as a form, from the schema of its kind. leave: names that the sheet shows in its own way. */
export function SchemaForm({ step, leave = [] }: { step: Step; leave?: string[] }) {
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  if (!root) return null;
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      {Object.entries(root.properties ?? {})
        .filter(([name]) => !leave.includes(name))
        .map(([name, schema]) => (
          <AnyField
            key={name}
            step={step}
            path={[name]}
            schema={resolved(schema, root)}
            root={root}
            value={valueAt(step.params, name, schema)}
          />
        ))}
    </Box>
  );
}

/** One parameter of a step as a field. */
export function ParamField({ step, name }: { step: Step; name: string }) {
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const schema = root?.properties?.[name];
  if (!root || !schema) return null;
  return (
    <AnyField
      step={step}
      path={[name]}
      schema={resolved(schema, root)}
      root={root}
      value={valueAt(step.params, name, schema)}
    />
  );
}

/** The fields of one member of a union, under a path. */
export function SchemaFields(props: {
  step: Step;
  path: Path;
  of: string;
  root: Schema;
  value: object;
  leave?: string[];
}) {
  const { step, path, of, root, value, leave = [] } = props;
  const schema = resolved({ $ref: of }, root);
  return Object.entries(schema.properties ?? {})
    .filter(([name]) => name !== "type" && !leave.includes(name))
    .map(([name, inner]) => (
      <AnyField
        key={`${of}.${name}`}
        step={step}
        path={[...path, name]}
        schema={resolved(inner, root)}
        root={root}
        value={valueAt(value as Record<string, unknown>, name, inner)}
      />
    ));
}

function AnyField(field: Field) {
  const { schema, value } = field;
  if (schema["x-refers"]) return <RefField {...field} />;
  if (schema.items && resolved(schema.items, field.root)["x-refers"])
    return (
      <RefList
        {...field}
        schema={{
          ...resolved(schema.items, field.root),
          title: schema.title ?? "",
          default: schema.default,
          ...(schema.maxItems ? { maxItems: schema.maxItems } : {}),
        }}
      />
    );
  if (schema["x-quantity"]) return <Quantity {...field} />;
  if (schema.discriminator) {
    const ways = kindOf(field.step).ways?.[String(field.path[0])];
    return ways ? <WaysField {...field} ways={ways} /> : <ShapeField {...field} />;
  }
  if (schema.enum) return <ChoiceField {...field} />;
  if (schema.type === "boolean") return <SwitchField {...field} />;
  if (schema.prefixItems) return <PairField {...field} />;
  if (schema.type === "array" && Array.isArray(value) && Array.isArray(value[0]))
    return (
      <PointsField
        step={field.step}
        path={field.path}
        points={value as (number | string)[][]}
        least={schema.minItems ?? 1}
        most={schema.maxItems ?? 1000}
      />
    );
  return null;
}

function useKeep({ step, path }: Field) {
  const { change } = useFloor();
  return (value: unknown) => change([{ do: "set-param", step: step.id, path, value }]);
}

function useIsWrong({ step, path }: Field): boolean {
  const place = path.join(".");
  return useBuilt(
    (built) =>
      built.steps[step.id]?.findings.some((f) => f.severity === "error" && f.path?.join(".") === place) ?? false,
  );
}

function Quantity(field: Field) {
  const keep = useKeep(field);
  const wrong = useIsWrong(field);
  const worth = useBuilt((built) => built.steps[field.step.id]?.values?.[field.path.join(".")]);
  return (
    <NumberField
      label={field.schema.title ?? String(field.path.at(-1))}
      kind={field.schema["x-quantity"] ?? "number"}
      value={field.value as number | string}
      worth={worth}
      onKeep={keep}
      wrong={wrong}
      own={field.step.id}
    />
  );
}

function PairField(field: Field) {
  const values = useBuilt((built) => built.steps[field.step.id]?.values);
  const keep = useKeep(field);
  const { kept } = useFloor();
  const pair = field.value as (number | string)[];
  // another of them may be on its way to be kept: it stays as it was typed
  const one = async (i: number, typed: number | string) => {
    const step = (await kept())?.document.steps.find(({ id }) => id === field.step.id);
    const now = (step && valueAtPath(step, field.path)) as typeof pair | undefined;
    return keep((now ?? pair).map((old, k) => (k === i ? typed : old)));
  };
  return (
    <Labelled label={field.schema.title ?? ""}>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: pair.length > 2 ? "minmax(0, 1fr)" : "repeat(2, minmax(0, 1fr))",
          gap: 0.75,
        }}
      >
        {pair.map((value, i) => (
          <NumberField
            key={i}
            hideLabel
            label={`${field.schema.title} ${"xyz"[i]}`}
            kind={field.schema.prefixItems?.[i]?.["x-quantity"] ?? "length"}
            value={value}
            worth={values?.[[...field.path, i].join(".")]}
            onKeep={(typed) => one(i, typed)}
          />
        ))}
      </Box>
    </Labelled>
  );
}

function ChoiceField(field: Field) {
  const keep = useKeep(field);
  return (
    <Picker
      label={field.schema.title ?? ""}
      value={String(field.value)}
      choices={(field.schema.enum ?? []).map((value) => ({ value, title: value }))}
      onPick={keep}
    />
  );
}

/** One of several ways to fill in a parameter, and below it the numbers of the one chosen. */
function WaysField({ ways, ...field }: Field & { ways: Way[] }) {
  const keep = useKeep(field);
  const { steps } = useDocument();
  const value = field.value as { type: string };
  const earlier = (result: Result) =>
    steps
      .slice(
        0,
        steps.findIndex((s) => s.id === field.step.id),
      )
      .filter((s) => gives(s, result));
  const start = (wanted: string) => ways.find((way) => way.value === wanted)?.start({ step: field.step, earlier });
  return (
    <>
      <Picker
        label={field.schema.title ?? ""}
        value={value.type}
        choices={ways}
        onPick={(wanted) => keep(start(wanted))}
      />
      <SchemaFields
        step={field.step}
        path={field.path}
        of={field.schema.discriminator?.mapping[value.type] ?? ""}
        root={field.root}
        value={value}
      />
    </>
  );
}

function SwitchField(field: Field) {
  const keep = useKeep(field);
  const id = useId();
  return (
    <Labelled label={field.schema.title ?? ""} htmlFor={id}>
      <Switch
        size="small"
        id={id}
        checked={Boolean(field.value)}
        onChange={(event) => void keep(event.target.checked)}
      />
    </Labelled>
  );
}

/** Shapes that are not made of a few numbers. */
const OWN_SHAPES: Record<string, string> = {
  traced: "As cut from the body",
  drawing: "Drawn on the board",
  copied: "As another section",
  face: "Round a face",
};

/** Between rails a copy is as large as they say; by itself it has no ends that lie on anything. */
const leftByCopy = ({ rails }: Record<string, unknown>): string[] =>
  Array.isArray(rails) && rails.length ? ["scale", "about"] : ["ends"];

const titleOf = (type: string) => SHAPES.find((shape) => shape.type === type)?.title;

/** A section that is called by the shape it was made with is called by its new one. Names that a designer gave stay. */
function renamed(document: DesignDocument, step: Step, before: string, after: string): Edit[] {
  const [old, title] = [titleOf(before), titleOf(after)];
  if (!old || !title || !new RegExp(`^${old} \\d+$`).test(step.name)) return [];
  const taken = new Set(document.steps.map(({ name }) => name));
  let number = 1;
  while (taken.has(`${title} ${number}`)) number++;
  return [{ do: "rename-step", step: step.id, name: `${title} ${number}` }];
}

/** A choice of kinds, and below it the numbers of the kind chosen. Another kind starts at the size of the one before. */
function ShapeField(field: Field) {
  const { live, change } = useFloor();
  const shape = field.value as Record<string, unknown>;
  const type = String(shape["type"]);
  const own = OWN_SHAPES[type];
  const pick = (wanted: string) => {
    const summary = sectionSummary(live.built.getState().steps[field.step.id]);
    const { width, depth } = extent(summary);
    const value = starter(wanted as ShapeType, width, depth, summary?.outline);
    return change((now) => [
      { do: "set-param", step: field.step.id, path: field.path, value },
      ...renamed(now, field.step, type, wanted),
    ]);
  };
  return (
    <>
      <Picker
        label={field.schema.title ?? "Shape"}
        value={type}
        choices={[
          ...(own ? [{ value: type, title: own }] : []),
          ...SHAPES.map(({ type: value, title }) => ({ value, title })),
        ]}
        onPick={pick}
      />
      {(!own || ["copied", "face"].includes(type)) && (
        <SchemaFields
          step={field.step}
          path={field.path}
          of={field.schema.discriminator?.mapping[type] ?? ""}
          root={field.root}
          value={shape}
          leave={type === "copied" ? leftByCopy(shape) : []}
        />
      )}
    </>
  );
}

export function Picker(props: {
  label: string;
  value: string;
  choices: { value: string; title: string }[];
  onPick: (value: string) => Promise<unknown>;
}) {
  const { label, value, choices, onPick } = props;
  const id = useId();
  return (
    <Labelled label={label} id={id}>
      <Select
        fullWidth
        value={choices.some((choice) => choice.value === value) ? value : ""}
        onChange={(event) => void onPick(event.target.value)}
        labelId={id}
        sx={{ fontSize: 14, "& .MuiSelect-select": { py: "5px" } }}
      >
        {choices.map((choice) => (
          <MenuItem key={choice.value} value={choice.value}>
            {choice.title}
          </MenuItem>
        ))}
      </Select>
    </Labelled>
  );
}

export function Labelled({
  label,
  id,
  htmlFor,
  children,
}: {
  label: string;
  id?: string;
  htmlFor?: string;
  children: ReactNode;
}) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: labelled, alignItems: "center", gap: 1 }}>
      <Box component="label" id={id} htmlFor={htmlFor} sx={{ fontSize: 14 }}>
        {label}
      </Box>
      {children}
    </Box>
  );
}
