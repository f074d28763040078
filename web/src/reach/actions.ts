import { createContext, useContext } from "react";

/** Something a designer can do, by name or by two keys. */
export interface Action {
  name: string;
  /** Two letters typed one after the other, or a single key that is shown as it is. */
  keys?: string;
  /** Other words by which people look for it. */
  alike?: string;
  run: () => void;
  disabled?: boolean;
}

/** Puts together all that can be done now. */
export const Actions = createContext<() => Action[]>(() => []);
export const useActions = (): (() => Action[]) => useContext(Actions);

/** Actions whose name holds every word that was typed, those that begin with it first. */
export function matching(actions: Action[], typed: string): Action[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = actions.filter(
    (a) => !a.disabled && words.every((word) => `${a.name} ${a.alike ?? ""}`.toLowerCase().includes(word)),
  );
  const first = words[0] ?? "";
  return found.toSorted(
    (a, b) => Number(b.name.toLowerCase().startsWith(first)) - Number(a.name.toLowerCase().startsWith(first)),
  );
}
