import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useId } from "react";
import type { Step } from "../api/types";
import { useDocument, useFloor, usePlace } from "../floor/context";
import { broughtBefore } from "../model/order";
import type { Picking } from "../model/place";
import type { Reference } from "../picking/answer";
import { bodyIn } from "../steps/bodies";
import { kindOf } from "../steps/registry";
import { colours } from "../theme/colours";
import { labelled } from "../theme/theme";
import { partWords } from "./partWords";
import type { Field } from "./SchemaForm";

/** What can be picked for a field: a part of a body, or a step by what it gives. */
const wanted = ({ schema }: Field): Pick<Picking, "what" | "whole" | "most"> => ({
  what: schema["x-part"] ?? (schema["x-refers"] as Picking["what"]),
  ...(schema["x-whole"] ? { whole: true } : {}),
  ...(schema.maxItems ? { most: schema.maxItems } : {}),
});

function useEarlier({ step, schema }: Field): Step[] {
  const { steps } = useDocument();
  const before = steps.slice(
    0,
    steps.findIndex((s) => s.id === step.id),
  );
  return before.filter((s) => kindOf(s).result === schema["x-refers"]);
}

/** One step, or a part of its body: a chip that lights it, a list to choose from, and a way to pick it in the scene. */
export function RefField(field: Field) {
  const { change } = useFloor();
  const id = useId();
  const earlier = useEarlier(field);
  const value = (field.value ?? null) as Reference | null;
  const keep = (next: Reference | null) =>
    change([{ do: "set-param", step: field.step.id, path: field.path, value: next }]);
  const optional = field.schema.anyOf === undefined && field.value === undefined ? true : field.value === null;
  const part = field.schema["x-part"];
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: labelled, alignItems: "center", gap: 1 }}>
      <Box component="label" id={id} sx={{ fontSize: 14 }}>
        {field.schema.title}
      </Box>
      <Box sx={{ display: "flex", gap: 0.5, minWidth: 0 }}>
        {part ? (
          <Part value={value} what={part} />
        ) : (
          <Select
            fullWidth
            displayEmpty
            value={earlier.some((s) => s.id === value?.step) ? value?.step : ""}
            onChange={(event) => void keep(event.target.value ? { step: event.target.value } : null)}
            labelId={id}
            sx={{ fontSize: 14, minWidth: 0, "& .MuiSelect-select": { py: "5px" } }}
          >
            {(optional || !value) && <MenuItem value="">none</MenuItem>}
            {earlier.map((s) => (
              <MenuItem key={s.id} value={s.id}>
                {s.name}
              </MenuItem>
            ))}
          </Select>
        )}
        <PickButton field={field} many={false} />
      </Box>
    </Box>
  );
}

/** What a list may hold besides: rails come from later too, where they need nothing of this step; whole bodies as they stand in the end. */
function useReachable({ step, schema }: Field): Step[] {
  const { steps } = useDocument();
  const what = schema["x-refers"];
  const whole = schema["x-whole"] === true;
  if (schema["x-part"] && !whole) return [];
  const worked = whole ? new Set(steps.map(bodyIn)) : new Set();
  return steps.filter((s) => {
    const { result } = kindOf(s);
    if (s.id === step.id || !(result === what || (whole && result === "reference")) || worked.has(s.id)) return false;
    const moves = broughtBefore(step.id, s.id, steps);
    return moves !== null && (moves.length === 0 || what === "rail");
  });
}

/** Several steps: a chip for each, more by picking or from the list. */
export function RefList(field: Field) {
  const { change } = useFloor();
  const { steps } = useDocument();
  const id = useId();
  const list = (field.value ?? []) as Reference[];
  const full = list.length >= (field.schema.maxItems ?? Infinity);
  const left = useReachable(field).filter((s) => !full && !list.some((item) => item.step === s.id && !item.part));
  const keep = (next: Reference[]) => change([{ do: "set-param", step: field.step.id, path: field.path, value: next }]);
  const add = (id: string) =>
    change((now) => [
      ...(broughtBefore(field.step.id, id, now.steps) ?? []),
      { do: "set-param", step: field.step.id, path: field.path, value: [...list, { step: id }] },
    ]);
  const least = Array.isArray(field.schema.default) ? 0 : 1;
  const part = field.schema["x-part"];
  return (
    <Box role="group" aria-labelledby={id} sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 0.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
        <Box id={id} sx={{ fontSize: 14 }}>
          {field.schema.title}
        </Box>
        <PickButton field={field} many />
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        {list.map((item, i) =>
          part ? (
            <Part
              key={item.part ?? i}
              value={item}
              what={part}
              {...(list.length > least ? { onDelete: () => void keep(list.filter((other) => other !== item)) } : {})}
            />
          ) : (
            <StepChip
              key={item.step}
              step={item.step}
              label={steps.find((s) => s.id === item.step)?.name ?? "gone"}
              {...(list.length > least
                ? { onDelete: () => void keep(list.filter((other) => other.step !== item.step)) }
                : {})}
            />
          ),
        )}
      </Box>
      {left.length > 0 && (
        <Select
          displayEmpty
          value=""
          onChange={(event) => void add(event.target.value)}
          inputProps={{ "aria-label": `Add to ${field.schema.title ?? "the list"}` }}
          sx={{ fontSize: 14, "& .MuiSelect-select": { py: "5px" } }}
        >
          <MenuItem value="" disabled>
            Add…
          </MenuItem>
          {left.map((s) => (
            <MenuItem key={s.id} value={s.id}>
              {s.name}
            </MenuItem>
          ))}
        </Select>
      )}
    </Box>
  );
}

function PickButton({ field, many }: { field: Field; many: boolean }) {
  const { place } = useFloor();
  const path = field.path.join(".");
  const picking = usePlace((p) => p.picking?.step === field.step.id && p.picking.path.join(".") === path);
  return (
    <Button
      variant={picking ? "contained" : "outlined"}
      aria-pressed={picking}
      aria-label={`Pick ${field.schema.title ?? ""} in the scene`}
      onClick={() =>
        place.setState({
          picking: picking ? null : { step: field.step.id, path: field.path, ...wanted(field), many },
        })
      }
      sx={{ minWidth: 0, px: 1, py: 0.25, fontSize: 13, flex: "none" }}
    >
      Pick
    </Button>
  );
}

/** A face or an edge, said by what made it; pointing at it lights it. */
function Part(props: { value: Reference | null; what: "face" | "edge" | "part"; onDelete?: () => void }) {
  const { value, what, onDelete } = props;
  const { place } = useFloor();
  const document = useDocument();
  const part = value?.part ?? null;
  const whole = what === "part" && value ? document.steps.find(({ id }) => id === value.step)?.name : undefined;
  const words = part ? partWords(part, document) : (whole ?? `no ${what} yet`);
  const light = () => place.setState({ litNames: part ? [part] : [], hovered: part ? null : (value?.step ?? null) });
  const leave = () => place.setState({ litNames: [], hovered: null });
  return (
    <Chip
      label={words}
      title={words}
      tabIndex={0}
      onPointerEnter={light}
      onPointerLeave={leave}
      onFocus={light}
      onBlur={leave}
      {...(onDelete ? { onDelete } : {})}
      sx={{
        // two beside each other only where their words fit
        flex: "1 1 auto",
        minWidth: 0,
        maxWidth: "100%",
        borderRadius: 1,
        bgcolor: colours.paper,
        fontSize: 13,
        justifyContent: onDelete ? "space-between" : "flex-start",
      }}
    />
  );
}

function StepChip({ step, label, onDelete }: { step: string; label: string; onDelete?: () => void }) {
  const { place } = useFloor();
  return (
    <Chip
      label={label}
      onPointerEnter={() => place.setState({ hovered: step })}
      onPointerLeave={() => place.setState({ hovered: null })}
      {...(onDelete ? { onDelete } : {})}
      sx={{ borderRadius: 1, bgcolor: colours.paper, fontSize: 13 }}
    />
  );
}
