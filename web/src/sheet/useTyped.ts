import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { queries } from "../api/queries";
import { useFloor, useHead } from "../floor/context";

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

/**
 * What numbers being typed come to: the server works them out, units, names and arithmetic alike.
 * `now` is what is known already; calling it waits for all of it.
 */
export function useTyped(fields: readonly Field[], texts: Texts) {
  const { id } = useFloor();
  const { revision } = useHead().design;
  const cache = useQueryClient();
  const [now, setNow] = useState<Typed>({});

  const ask = useCallback(
    async (typed: Texts): Promise<Typed> => {
      const filled = Object.entries(typed).filter(([, text]) => text.trim());
      const found = await Promise.all(
        filled.map(async ([name, text]) => {
          const kind = fields.find((field) => field.name === name)?.kind ?? "length";
          const { value, why } = await cache.fetchQuery(queries.worth(id, revision, text, kind));
          return [name, { text, worth: value, why }] as const;
        }),
      );
      return Object.fromEntries(found);
    },
    [cache, id, revision, fields],
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
  return useMemo(() => Object.assign(ask, { now }), [ask, now]);
}

export type Told = ReturnType<typeof useTyped>;

/** The first of the numbers with which something is wrong. */
export const wrongIn = (typed: Typed): TypedNumber | undefined => Object.values(typed).find(({ why }) => why);
