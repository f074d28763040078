import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { queries } from "../api/queries";
import { useFloor, useHead } from "../floor/context";
import type { Tool } from "./tools";
import type { Typed } from "./toolShapes";

/**
 * What the numbers typed while drawing come to: the server works them out, units, names and arithmetic alike.
 * `now` is what is known already; calling it waits for all of it.
 */
export function useTyped(tool: Tool | null, texts: Readonly<Record<string, string>>) {
  const { id } = useFloor();
  const { revision } = useHead().design;
  const cache = useQueryClient();
  const [now, setNow] = useState<Typed>({});

  const ask = useCallback(
    async (typed: Readonly<Record<string, string>>): Promise<Typed> => {
      const filled = Object.entries(typed).filter(([, text]) => text.trim());
      const found = await Promise.all(
        filled.map(async ([name, text]) => {
          const kind = tool?.fields?.find((field) => field.name === name)?.kind ?? "length";
          const { value } = await cache.fetchQuery(queries.worth(id, revision, text, kind));
          return [name, { text, worth: value }] as const;
        }),
      );
      return Object.fromEntries(found);
    },
    [cache, id, revision, tool],
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
