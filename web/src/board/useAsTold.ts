import { startTransition, useEffect, useState, useSyncExternalStore } from "react";
import type { Built } from "../api/built";
import type { DrawnLines, StepStatus } from "../api/types";
import { useFloor } from "../floor/context";

export interface AsTold {
  status: StepStatus | undefined;
  /** Where the lines are, when they are newer than all else. */
  lines: DrawnLines | undefined;
}

/** The newest of a drawing; the same object for as long as it stays the same, and while the hand is on the sheet. */
function newestOf(built: () => Built, section: string, held: () => boolean): () => AsTold {
  const read = ({ steps, lines }: Built): AsTold => ({ status: steps[section], lines: lines[section] });
  let last = read(built());
  return () => {
    const now = read(built());
    if (!held() && (now.status !== last.status || now.lines !== last.lines)) last = now;
    return last;
  };
}

/** What the server last told of a drawing. While the hand is on it the sheet is made of that when there is time: its lines have been put there before. */
export function useAsTold(section: string, held: () => boolean): AsTold {
  const { built } = useFloor().live;
  const [newest] = useState(() => newestOf(built.getState, section, held));
  const [pulled, setPulled] = useState<{ from: AsTold; status: AsTold["status"]; lines: AsTold["lines"] } | null>(null);
  const now = useSyncExternalStore(built.subscribe, newest);
  useEffect(
    () =>
      built.subscribe(({ steps, lines }, before) => {
        if (!held() || (steps[section] === before.steps[section] && lines[section] === before.lines[section])) return;
        startTransition(() => setPulled({ from: newest(), status: steps[section], lines: lines[section] }));
      }),
    [built, section, held, newest],
  );
  return held() && pulled?.from === now ? pulled : now;
}
