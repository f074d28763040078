import { createContext, useContext } from "react";

/** Something that can be done on a page, by its button, by name or by keys. */
export interface Action {
  /** What it is called wherever it can be reached. */
  name: string;
  /** On a button, where the place says the rest. */
  title?: string;
  /** Keys one after the other, `g r`, or held together, `$mod+z`. */
  keys?: string;
  /** Other words by which people look for it. */
  alike?: string;
  /** What it would do just now, where the name does not say. */
  says?: string;
  /** What is missing, where it can't be done just now. */
  why?: string | undefined;
  /** Whether it is so already, where it is a choice. */
  on?: boolean;
  run: () => void;
}

/** Puts together all that can be done on this page now. */
export const Actions = createContext<() => Action[]>(() => []);
export const useActions = (): (() => Action[]) => useContext(Actions);

/** Actions whose name holds every word that was typed: what can be done before what can't, what begins with it first, then what is called so. */
export function matching(actions: Action[], typed: string): Action[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = actions.filter((a) =>
    words.every((word) => `${a.name} ${a.alike ?? ""} ${a.says ?? ""}`.toLowerCase().includes(word)),
  );
  const first = words[0] ?? "";
  const called = (a: Action) => a.name.toLowerCase();
  const near = (a: Action) =>
    called(a).startsWith(first) ? 0 : words.every((word) => called(a).includes(word)) ? 1 : 2;
  const rank = (a: Action) => (a.why === undefined ? 0 : 3) + near(a);
  return found.toSorted((a, b) => rank(a) - rank(b));
}

/** Keys as they are shown: `Ctrl z`, `g r`. */
export const keysInWords = (keys: string): string =>
  keys
    .replaceAll("$mod+", "Ctrl ")
    .replaceAll("[Shift]+", "")
    .replaceAll("Shift+", "Shift ")
    .replaceAll("Escape", "Esc");
