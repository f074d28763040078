import { useEffect } from "react";
import { named } from "./drawing";
import { everything } from "./gathered";
import { AXES, isGround, ORIGIN } from "./ground";
import type { GridSteps } from "./sheetLook";
import { AWAY } from "./keys";
import { fieldsOf, toolOf, type Tool } from "./tools";
import type { Landing } from "./useLanding";
import type { BoardState } from "./useBoard";

/** With what a number begins. */
const DIGIT = /^[0-9.,(-]$/;

const FIELD = ["INPUT", "TEXTAREA", "SELECT"];

const elsewhere = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest('[role="dialog"], [role="menu"], [role="listbox"], [role="radiogroup"]') !== null;

/** Keys on the sheet: numbers go to the tool, arrows nudge what is picked, and everything drawn is reached without a pointer. */
export function useSheetKeys(board: BoardState, grid: GridSteps, flip: 1 | -1, landing: Landing): void {
  const { store, drawn, act, offer, letGo, choose } = board;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (elsewhere(event.target)) return;
      // as it is by now: the next key may come before anything is drawn anew
      const tool = toolOf(store.getState().tool);
      const typing = event.target instanceof HTMLElement && FIELD.includes(event.target.tagName);
      if (landing.file && (event.key === "Escape" || (event.key === "Enter" && !typing))) {
        if (event.target instanceof HTMLButtonElement && event.key === "Enter") return;
        event.stopImmediatePropagation();
        if (event.key === "Escape") landing.leave();
        else if (landing.ready) void landing.take();
        return;
      }
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
        // the key goes on to the field that is ready for it, and to nothing else that it might mean
        event.stopPropagation();
        ready(tool)?.focus();
      } else if (tool && event.key === "Tab" && event.target === document.body && !event.shiftKey) {
        event.preventDefault();
        ready(tool)?.focus();
      } else if (!tool) atRest(event);
    };

    const ready = (asking: Tool): HTMLInputElement | null => {
      const { picks, pending } = store.getState();
      const [first] = fieldsOf(asking, picks.length + pending);
      return document.querySelector(`[data-slip] [data-field="${first?.name}"]`);
    };

    const atRest = (event: KeyboardEvent) => {
      const { picked } = store.getState();
      const away = AWAY[event.key];
      if (away && picked.length) {
        const step = event.shiftKey ? grid.coarse : grid.fine;
        // by so much, wherever it is by now: arrows may come quicker than answers
        const by: [number, number] = [flip * away[0] * step, away[1] * step];
        void act([
          {
            act: "move",
            things: picked.filter((id) => !isGround(id) && !drawn.holds.some((hold) => hold.id === id)),
            by,
            copy: false,
          },
        ]);
      } else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey))
        store.setState({ picked: everything(drawn) });
      else if (event.key === "PageDown" || event.key === "PageUp") {
        const all = [...drawn.curves.map(({ id }) => id), ...Object.keys(drawn.points), ...Object.keys(AXES), ORIGIN];
        const step = event.key === "PageDown" ? 1 : -1;
        const from = all.indexOf(picked.at(-1) ?? "");
        const next = all[(from < 0 ? (step > 0 ? 0 : all.length - 1) : from + step + all.length) % all.length] ?? "";
        store.setState({ picked: event.shiftKey ? [...picked.filter((id) => id !== next), next] : [next] });
      } else return;
      event.preventDefault();
    };

    /** One thing back: what is dragged, typed, picked for the tool, the tool, what is picked. */
    const back = (): boolean => {
      const { tool, drag, box, picks, typed, picked } = store.getState();
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
  }, [store, drawn, act, offer, letGo, choose, grid.fine, grid.coarse, flip, landing]);
}

/** What is picked, in words: for whoever hears the sheet. */
export const pickedInWords = ({ drawn, doing }: BoardState): string =>
  doing.picked.map((id) => named(drawn, id)).join(" and ");
