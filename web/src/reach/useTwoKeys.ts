import { useEffect } from "react";
import type { Action } from "./actions";

const PATIENCE = 1500;

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName));

/** Runs actions by their keys: two letters one after the other, or one key alone. Keys typed into a field are left alone. */
export function useTwoKeys(actions: () => Action[]): void {
  useEffect(() => {
    let before = "";
    let since = 0;
    const press = (event: KeyboardEvent) => {
      if (typing(event.target) || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const both = performance.now() - since < PATIENCE ? `${before} ${event.key}` : "";
      const action = actions().find((a) => !a.disabled && (a.keys === event.key || (both && a.keys === both)));
      before = event.key;
      since = performance.now();
      if (!action) return;
      before = "";
      event.preventDefault();
      action.run();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [actions]);
}
