import { useEffect } from "react";

/** Esc goes to whoever is in the middle of something: `cancel` says whether it was, and then nobody else hears of the key. */
export function useEscape(cancel: () => boolean): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key === "Escape" && cancel()) event.stopImmediatePropagation();
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [cancel]);
}
