import { startTransition, useEffect, useState, useSyncExternalStore } from "react";
import type { Built } from "../api/built";
import type { DrawnLines, StepStatus } from "../api/types";
import { useFloor } from "../floor/context";

export interface AsTold {
  status: StepStatus | undefined;
  /** Where the lines are, when they are newer than all else. */
  lines: DrawnLines | undefined;
}

const read = ({ steps, lines }: Built, section: string): AsTold => ({ status: steps[section], lines: lines[section] });

const same = (a: AsTold, b: AsTold): boolean => a.status === b.status && a.lines === b.lines;

/** The newest of a drawing; the same object for as long as it stays the same, and while the hand is on the sheet. */
function newestOf(built: () => Built, section: string, held: () => boolean): () => AsTold {
  let last = read(built(), section);
  return () => {
    const now = read(built(), section);
    if (!held() && !same(now, last)) last = now;
    return last;
  };
}

/** What the server last told of a drawing. While the hand is on it the sheet is made of that when there is time: its lines have been put there before. */
export function useAsTold(section: string, held: () => boolean): AsTold {
  const { built } = useFloor().live;
  const [newest] = useState(() => newestOf(built.getState, section, held));
  const [pulled, setPulled] = useState<(AsTold & { from: AsTold }) | null>(null);
  const now = useSyncExternalStore(built.subscribe, newest);
  useEffect(
    () =>
      built.subscribe((after, before) => {
        const told = read(after, section);
        if (!held() || same(told, read(before, section))) return;
        startTransition(() => setPulled({ from: newest(), ...told }));
      }),
    [built, section, held, newest],
  );
  return held() && pulled?.from === now ? pulled : now;
}
