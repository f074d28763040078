import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { queries } from "../api/queries";
import type { LengthUnit } from "../api/types";
import { useFloor, useHead } from "../floor/context";
import { millimetres } from "../model/units";

/** A number that can be typed. hint: what it is while nothing stands there. */
export interface Field {
  name: string;
  title: string;
  kind: "length" | "angle" | "count";
  hint?: string;
}

/** A number as it was typed, and what it comes to in mm, degrees or as a count: null while that is not known, or where it says nothing. */
export interface TypedNumber {
  text: string;
  worth: number | null;
  /** What is wrong with it, in a sentence. */
  why?: string;
}

/** What was typed, by field. Fields in which nothing stands are left out. */
export type Typed = Readonly<Record<string, TypedNumber>>;
export type Texts = Readonly<Record<string, string>>;

const PLAIN = /^-?\d{1,9}(\.\d{1,9})?$/;

/** A number in digits alone, which comes to itself in the unit of the design; all others are worked out by the server. */
function plain(text: string, kind: Field["kind"], unit: LengthUnit): TypedNumber | null {
  const digits = text.trim();
  return PLAIN.test(digits) ? { text, worth: Number(digits) * (kind === "length" ? millimetres(unit) : 1) } : null;
}

/** All of the numbers, if each of them is plain. */
function allPlain(fields: readonly Field[], texts: Texts, unit: LengthUnit): Typed | null {
  const found: Record<string, TypedNumber> = {};
  for (const [name, text] of Object.entries(texts)) {
    if (!text.trim()) continue;
    const number = plain(text, kindOf(fields, name), unit);
    if (!number) return null;
    found[name] = number;
  }
  return found;
}

const kindOf = (fields: readonly Field[], name: string): Field["kind"] =>
  fields.find((field) => field.name === name)?.kind ?? "length";

/**
 * What numbers being typed come to: the server works them out, units, names and arithmetic alike, unless they are plain.
 * `now` is what is known already; calling it waits for all of it.
 */
export function useTyped(fields: readonly Field[], texts: Texts) {
  const { id } = useFloor();
  const { revision, document: described } = useHead().design;
  const { unit } = described;
  const cache = useQueryClient();
  const [now, setNow] = useState<Typed>({});

  const ask = useCallback(
    async (typed: Texts): Promise<Typed> => {
      const filled = Object.entries(typed).filter(([, text]) => text.trim());
      const found = await Promise.all(
        filled.map(async ([name, text]) => {
          const kind = kindOf(fields, name);
          const known = plain(text, kind, unit);
          if (known) return [name, known] as const;
          const { value, why } = await cache.fetchQuery(queries.worth(id, revision, text, kind));
          return [name, { text, worth: value, why }] as const;
        }),
      );
      return Object.fromEntries(found);
    },
    [cache, id, revision, unit, fields],
  );
  useEffect(() => {
    let wanted = true;
    void ask(texts)
      .then((found) => wanted && setNow(found))
      .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [ask, texts]);
  const known = useMemo(() => allPlain(fields, texts, unit) ?? now, [fields, texts, unit, now]);
  return useMemo(() => Object.assign((typed: Texts) => ask(typed), { now: known }), [ask, known]);
}

export type Told = ReturnType<typeof useTyped>;

/** The first of the numbers with which something is wrong. */
export const wrongIn = (typed: Typed): TypedNumber | undefined => Object.values(typed).find(({ why }) => why);
