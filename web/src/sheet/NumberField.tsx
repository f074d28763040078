import Box from "@mui/material/Box";
import OutlinedInput from "@mui/material/OutlinedInput";
import { useId, useLayoutEffect, useRef, useState } from "react";
import { useDocument } from "../floor/context";
import { lengthNumber, roundStep, trimmed } from "../model/units";
import { colours } from "../theme/colours";
import { labelled, numbers } from "../theme/theme";

export type Quantity = "length" | "angle" | "count" | "number";

interface Props {
  label: string;
  kind: Quantity;
  /** As in the document: mm, degrees or a count, or an expression. */
  value: number | string;
  /** What an expression comes to, in mm, degrees or as a count. */
  worth?: number | undefined;
  /** Keeps what was typed; null means it was refused, and the text stays as it is. */
  onKeep: (value: number | string) => Promise<unknown>;
  wrong?: boolean;
  hideLabel?: boolean;
  /** The step whose own number it is. */
  own?: string;
}

/** A number that can be typed with units, arithmetic and names. Enter keeps it, Esc puts it back, arrows step. */
export function NumberField({ label, kind, value, worth, onKeep, wrong = false, hideLabel = false, own }: Props) {
  const { unit } = useDocument();
  const id = useId();
  const kept = typeof value === "number" ? shown(value, kind, unit) : value;
  const [draft, setDraft] = useState<string | null>(null);
  const [refused, setRefused] = useState(false);
  const stepped = useRef<number | null>(null);
  const left = useRef(false);
  const underWay = useRef<string | null>(null);
  const text = draft ?? kept;
  const input = useRef<HTMLInputElement>(null);
  // what comes in while it is about to be typed over is typed over, too
  useLayoutEffect(() => {
    if (input.current === document.activeElement && draft === null) input.current?.select();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only what comes in, not what was put back
  }, [kept]);

  const putBack = () => {
    setDraft(null);
    setRefused(false);
  };
  const keep = async () => {
    const wanted = text.trim();
    if (wanted === kept || wanted === "") return putBack();
    // Enter, and then the field is left
    if (underWay.current === wanted) return;
    underWay.current = wanted;
    const refused = (await onKeep(wanted)) === null;
    if (underWay.current === wanted) underWay.current = null;
    setRefused(refused);
    // what is typed while it is on its way stays
    if (!refused) setDraft((now) => (now === text ? null : now));
  };
  const stepBy = (direction: number, large: boolean) => {
    // keys may repeat faster than changes are kept: each goes on from where the one before it ends
    const now = stepped.current ?? (typeof value === "number" ? value : worth);
    if (now === undefined) return;
    const size = kind === "length" ? roundStep(unit) * 2 : 1;
    const next = round(now + direction * size * (large ? 10 : 1));
    stepped.current = next;
    setDraft(shown(next, kind, unit));
    void onKeep(next).then(() => {
      if (stepped.current !== next) return;
      stepped.current = null;
      setDraft(null);
    });
  };
  const suffix = { length: unit, angle: "deg", count: "", number: "" }[kind];
  const isExpression = typeof value === "string";

  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: hideLabel ? "minmax(0, 1fr)" : labelled,
        alignItems: "center",
        gap: 1,
      }}
    >
      {!hideLabel && (
        <Box component="label" htmlFor={id} sx={{ fontSize: 14, overflowWrap: "anywhere" }}>
          {label}
        </Box>
      )}
      <OutlinedInput
        id={id}
        inputRef={input}
        size="small"
        fullWidth
        error={refused || wrong}
        value={text}
        onChange={(event) => {
          stepped.current = null;
          setDraft(event.target.value);
        }}
        onBlur={() => {
          if (!left.current) void keep();
          left.current = false;
        }}
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => {
          if (event.key === "Enter") void keep();
          else if (event.key === "Escape") {
            // it leaves the field, and nothing else hears of it
            event.stopPropagation();
            left.current = true;
            putBack();
            leave(event.target as HTMLElement);
          } else if (
            (event.key === "ArrowUp" || event.key === "ArrowDown") &&
            (text === kept || stepped.current !== null)
          ) {
            event.preventDefault();
            stepBy(event.key === "ArrowUp" ? 1 : -1, event.shiftKey);
          }
        }}
        inputProps={{
          spellCheck: false,
          autoComplete: "off",
          maxLength: 200,
          ...(own ? { "data-own-number": own } : {}),
          ...(hideLabel ? { "aria-label": label } : {}),
        }}
        endAdornment={
          <Box
            component="span"
            sx={{ ...numbers, color: colours.inkSoft, fontSize: 12, whiteSpace: "nowrap", pl: 0.5 }}
          >
            {isExpression ? (worth === undefined ? "" : `= ${shown(worth, kind, unit)}`) : suffix}
          </Box>
        }
        sx={{ ...numbers, fontSize: 14, "& input": numbers }}
      />
    </Box>
  );
}

/** Off the field, to what holds it where that can have the focus: a popover then hears the next Esc. */
function leave(field: HTMLElement): void {
  field.blur();
  field.closest<HTMLElement>('[tabindex="-1"]')?.focus();
}

function shown(value: number, kind: Quantity, unit: Parameters<typeof lengthNumber>[1]): string {
  return kind === "length" ? lengthNumber(value, unit) : trimmed(value, kind === "angle" ? 3 : 4);
}

const round = (value: number): number => Math.round(value * 1e6) / 1e6;
