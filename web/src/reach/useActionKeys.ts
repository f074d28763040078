import { useEffect, useRef, useState } from "react";
import { matchKeybindingPress, parseKeybinding } from "tinykeys";
import type { Action } from "./actions";

const PATIENCE = 1500;

/** Where keys mean something else: in a field, in a menu, before a dialog. */
const elsewhere = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) ||
    target.closest('[role="dialog"], [role="menu"], [role="listbox"]') !== null);

type Presses = ReturnType<typeof parseKeybinding>;

/** Words of keys that were begun, and what each still needs. */
class Begun {
  private words: { keys: string; rest: Presses }[] = [];
  private since = 0;

  /** The keys that this press ends, if any. A word that ends is done with, and so is every other that was begun before it. */
  press(event: KeyboardEvent, all: readonly string[]): string | null {
    const going = performance.now() - this.since < PATIENCE ? this.words : [];
    const matches = ({ rest }: { rest: Presses }) => rest[0] !== undefined && matchKeybindingPress(event, rest[0]);
    const further = [...going, ...all.map((keys) => ({ keys, rest: parseKeybinding(keys) }))]
      .filter(matches)
      .map(({ keys, rest }) => ({ keys, rest: rest.slice(1) }));
    const ended = further.find(({ rest }) => !rest.length);
    // a key that only holds others, as Shift does, ends nothing
    if (!further.length && event.key.length > 1 && event.key !== "Escape") return null;
    this.words = ended ? [] : further;
    this.since = performance.now();
    return ended?.keys ?? null;
  }
}

/** Lets actions be done by their keys. What can't be done just now is told to `refuse`. */
export function useActionKeys(actions: () => Action[], refuse: (action: Action) => void): void {
  const now = useRef({ actions, refuse });
  const [begun] = useState(() => new Begun());
  useEffect(() => {
    now.current = { actions, refuse };
  }, [actions, refuse]);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.isComposing || elsewhere(event.target)) return;
      // held down, a key says its letter once; undo goes on
      if (event.repeat && !event.ctrlKey && !event.metaKey) return;
      const all = now.current.actions();
      const ended = begun.press(event, [...new Set(all.flatMap(({ keys }) => keys ?? []))]);
      const action = all.find(({ keys }) => ended !== null && keys === ended);
      if (!action) return;
      event.preventDefault();
      if (action.why === undefined) action.run();
      else now.current.refuse(action);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [begun]);
}
