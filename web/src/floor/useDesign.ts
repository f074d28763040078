import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api } from "../api/client";
import { LiveChannel } from "../api/live";
import { queries } from "../api/queries";
import type { Design, DesignDocument, Edit } from "../api/types";
import { useChoice } from "../app/useChoice";
import { Refused, Unreached } from "../api/problems";
import { useProblem } from "../app/useProblem";
import { createPlace } from "../model/place";
import { bodyGeometry } from "../scene/bodyGeometry";
import { KeptViewport } from "../scene/keptViewport";
import type { FloorContext, HeadContext } from "./context";

/** A change that is asked for, and which way it goes in the history of the design. */
interface Asked {
  what: (now: Design) => Promise<Design>;
  way: "on" | "back";
}

/** Everything the floor needs of one design, which stays the same for the life of the component. head: null until it has come. error: why it can't be opened. */
export function useDesign(id: string): { floor: FloorContext; head: HeadContext | null; error: unknown } {
  const cache = useQueryClient();
  const problem = useProblem();
  const choose = useChoice();
  const head = useQuery(queries.head(id));
  const place = useMemo(() => createPlace(id), [id]);
  const [live] = useState(
    () => new LiveChannel(id, cache, (mesh, data) => void bodyGeometry(mesh, data).catch(() => undefined)),
  );
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const [away, setAway] = useState(false);
  const isAway = useRef(false);
  useEffect(() => void (isAway.current = away), [away]);
  const numbered = useRef({ page: Math.random().toString(36).slice(2), count: 0 });

  const [scene] = useState(() => new KeptViewport());

  useEffect(() => {
    live.open();
    return () => live.close();
  }, [live]);
  useEffect(() => () => scene.dispose(), [scene]);

  const mutation = useMutation({
    mutationFn: ({ what }: Asked) => {
      // one after the other: each change is made on the revision that the one before it gave
      const { queryKey } = queries.head(id);
      const turn = queue.current.then(async () => {
        const now = cache.getQueryData<Design>(queryKey);
        if (!now) throw new Error("a change before the design has come");
        const design = await untilHeard(() => what(now), setAway);
        cache.setQueryData(queryKey, design);
        return design;
      });
      queue.current = turn.catch(() => undefined);
      return turn;
    },
  });
  const { mutateAsync } = mutation;
  const pending = mutation.isPending ? mutation.variables.way : null;

  const run = useCallback(
    async (what: Asked["what"], way: Asked["way"] = "on"): Promise<Design | null> => {
      for (;;) {
        try {
          return await mutateAsync({ what, way });
        } catch (error) {
          const stale = error instanceof Refused && error.problem.code === "stale-base";
          if (!stale) problem(error);
          await cache.invalidateQueries({ queryKey: queries.head(id).queryKey });
          if (!stale || !(await choose(error.problem))) return null;
        }
      }
    },
    [mutateAsync, problem, choose, cache, id],
  );
  const change = useCallback(
    (edits: Edit[] | ((now: DesignDocument) => Edit[])) => {
      live.letGo();
      const mark = `${numbered.current.page}/${++numbered.current.count}`;
      return run(async (now) => {
        const wanted = typeof edits === "function" ? edits(now.document) : edits;
        if (!wanted.length) return now;
        // numbers are seen first: while they are kept there is much else to do
        const seen = wanted.every((edit) => edit.do === "set-param");
        if (seen) {
          live.show(now, wanted);
          await live.shaped();
        }
        try {
          const kept = await api.edit(id, now.revision, wanted, mark);
          // what changed nothing is no revision: nothing comes after what was seen of it
          if (seen && kept.revision === now.revision) live.show(now, []);
          return kept;
        } catch (error) {
          if (seen && error instanceof Refused) live.show(now, []);
          throw error;
        }
      });
    },
    [run, id, live],
  );
  const cut = useCallback(
    (ask: (base: number, design: string) => Promise<Design>) => run(({ revision }) => ask(revision, id)),
    [run, id],
  );
  const kept = useCallback(async () => {
    if (!isAway.current) await queue.current;
    return cache.getQueryData<Design>(queries.head(id).queryKey);
  }, [cache, id]);
  const undo = useCallback(() => void run(({ revision }) => api.undo(id, revision), "back"), [run, id]);
  const redo = useCallback(() => void run(({ revision }) => api.redo(id, revision)), [run, id]);

  const floor = useMemo(
    () => ({ id, place, live, scene, change, cut, kept, undo, redo }),
    [id, place, live, scene, change, cut, kept, undo, redo],
  );
  const shown = useMemo(() => (head.data ? { design: head.data, pending, away } : null), [head.data, pending, away]);
  useEffect(() => {
    if (!away) return;
    // what was not heard yet is only here
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [away]);
  return { floor, head: shown, error: head.error };
}

const FIRST_PAUSE = 250;
const LONGEST_PAUSE = 4000;

/** Sends a change again and again until the server has heard it, always the same one on the same revision: its mark tells that it is no new one. */
async function untilHeard(send: () => Promise<Design>, away: (is: boolean) => void): Promise<Design> {
  for (let pause = FIRST_PAUSE; ; pause = Math.min(2 * pause, LONGEST_PAUSE)) {
    try {
      const design = await send();
      away(false);
      return design;
    } catch (error) {
      if (!(error instanceof Unreached)) {
        away(false);
        throw error;
      }
      away(true);
      await new Promise((done) => setTimeout(done, pause));
    }
  }
}
