import { useCallback, useMemo, useRef } from "react";
import type { Edit } from "../api/types";
import { useEscape } from "../app/useEscape";
import { useFloor, useHead } from "../floor/context";

/** A grip that is being pulled, and what that comes to. T: what is remembered of how it was taken hold of. */
interface Held<T> {
  taken: T;
  edits: Edit[];
}

/** Pulling a grip: the body follows, letting go keeps it, Esc puts it back. */
export function usePulled<T>() {
  const { live, change } = useFloor();
  const { design } = useHead();
  const held = useRef<Held<T> | null>(null);
  useEscape(
    useCallback(() => {
      if (!held.current) return false;
      held.current = null;
      live.preview(design, []);
      return true;
    }, [live, design]),
  );
  return useMemo(
    () => ({
      take: (taken: T) => {
        held.current = { taken, edits: [] };
      },
      /** What was taken hold of; null where nothing is. */
      taken: (): T | null => held.current?.taken ?? null,
      follow: (edits: Edit[]) => {
        if (!held.current) return;
        held.current.edits = edits;
        live.preview(design, edits);
      },
      letGo: () => {
        const edits = held.current?.edits ?? [];
        held.current = null;
        if (!edits.length) return;
        void change(edits).then((kept) => {
          if (kept === null) live.preview(design, []);
        });
      },
    }),
    [live, change, design],
  );
}
