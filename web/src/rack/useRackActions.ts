import { useCallback } from "react";
import { useNavigate } from "react-router";
import type { Card } from "../api/types";
import type { Action } from "../reach/actions";

interface Doing {
  create: () => void;
  open: () => void;
  demo: () => void;
  remove: (card: Card) => void;
}

/** Everything that can be done at the rack, by name. */
export function useRackActions(cards: readonly Card[] | undefined, doing: Doing): () => Action[] {
  const navigate = useNavigate();
  const { create, open, demo, remove } = doing;
  return useCallback(
    () => [
      { name: "New design", keys: "n d", alike: "create start begin empty", run: create },
      { name: "Open a file", keys: "o f", alike: "import load bring", run: open },
      { name: "Put the demo set here", keys: "n s", alike: "samples examples", run: demo },
      ...(cards ?? []).flatMap((card): Action[] => [
        { name: `Open: ${card.name}`, alike: "go to design", run: () => void navigate(`/design/${card.id}`) },
        { name: `Remove: ${card.name}`, alike: "delete take off", run: () => remove(card) },
      ]),
    ],
    [navigate, cards, create, open, demo, remove],
  );
}
