import { useEffect } from "react";
import { named, type XY } from "./drawing";
import { everything } from "./gathered";
import type { GridSteps } from "./sheetLook";
import { fieldsOf } from "./tools";
import type { BoardState } from "./useBoard";

const AWAY: Readonly<Record<string, XY>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowDown: [0, -1],
  ArrowUp: [0, 1],
};
/** With what a number begins. */
const DIGIT = /^[0-9.,(-]$/;

const FIELD = ["INPUT", "TEXTAREA", "SELECT"];

const elsewhere = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest('[role="dialog"], [role="menu"], [role="listbox"], [role="radiogroup"]') !== null;

/** Keys on the sheet: numbers go to the tool, arrows nudge what is picked, and everything drawn is reached without a pointer. */
export function useSheetKeys(board: BoardState, grid: GridSteps, flip: 1 | -1): void {
  const { store, drawn, tool, act, offer, letGo, choose } = board;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (elsewhere(event.target)) return;
      const typing = event.target instanceof HTMLElement && FIELD.includes(event.target.tagName);
      if (event.key === "Escape") {
        if (!back()) return;
        event.stopImmediatePropagation();
        // out of a number, to the sheet
        if (typing) (event.target as HTMLElement).blur();
        return;
      }
      if (typing || event.defaultPrevented || event.altKey) return;
      if (event.key === "Enter" && tool && !(event.target instanceof HTMLButtonElement)) {
        event.preventDefault();
        void offer(null);
      } else if (tool && DIGIT.test(event.key) && !event.ctrlKey && !event.metaKey) {
        // the key goes on to the field that is ready for it
        const { picks, pending } = store.getState();
        const [first] = fieldsOf(tool, picks.length + pending);
        document.querySelector<HTMLInputElement>(`[data-slip] [data-field="${first?.name}"]`)?.focus();
      } else if (!tool) atRest(event);
    };

    const atRest = (event: KeyboardEvent) => {
      const { picked } = store.getState();
      const away = AWAY[event.key];
      if (away && picked.length) {
        const step = event.shiftKey ? grid.coarse : grid.fine;
        // by so much, wherever it is by now: arrows may come quicker than answers
        const by: [number, number] = [flip * away[0] * step, away[1] * step];
        void act([
          { act: "move", things: picked.filter((id) => !drawn.holds.some((hold) => hold.id === id)), by, copy: false },
        ]);
      } else if (event.key === "a" && (event.ctrlKey || event.metaKey)) store.setState({ picked: everything(drawn) });
      else if (event.key === "PageDown" || event.key === "PageUp") {
        const all = [...drawn.curves.map(({ id }) => id), ...Object.keys(drawn.points)];
        if (!all.length) return;
        const step = event.key === "PageDown" ? 1 : -1;
        const from = all.indexOf(picked.at(-1) ?? "");
        const next = all[(from < 0 ? (step > 0 ? 0 : all.length - 1) : from + step + all.length) % all.length] ?? "";
        store.setState({ picked: event.shiftKey ? [...picked.filter((id) => id !== next), next] : [next] });
      } else return;
      event.preventDefault();
    };

    /** One thing back: what is dragged, typed, picked for the tool, the tool, what is picked. */
    const back = (): boolean => {
      const { drag, box, picks, typed, picked } = store.getState();
      if (drag) void letGo(false);
      else if (box) store.setState({ box: null });
      else if (Object.values(typed).some((text) => text.trim())) store.setState({ typed: {} });
      else if (picks.length) store.setState({ picks: picks.slice(0, -1) });
      else if (tool) choose(null);
      else if (picked.length) store.setState({ picked: [] });
      else return false;
      return true;
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [store, drawn, tool, act, offer, letGo, choose, grid.fine, grid.coarse, flip]);
}

/** What is picked, in words: for whoever hears the sheet. */
export const pickedInWords = ({ drawn, doing }: BoardState): string =>
  doing.picked.map((id) => named(drawn, id)).join(" and ");
