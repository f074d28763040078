import { useEffect, useRef, type RefObject } from "react";
import { useFloor } from "../floor/context";

/** The first number of a step that was made just now takes the hand: what follows is most often its size. */
export function useFresh(step: string): RefObject<HTMLDivElement | null> {
  const { place } = useFloor();
  const holder = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (place.getState().fresh !== step || !holder.current) return;
    const reach = () => {
      const field = holder.current?.querySelector<HTMLInputElement>(`input[data-own-number="${step}"]`);
      if (!field || place.getState().fresh !== step) return;
      place.setState({ fresh: null });
      field.focus();
      field.select();
    };
    reach();
    // a form of its own comes a moment later
    const observer = new MutationObserver(reach);
    observer.observe(holder.current, { childList: true, subtree: true });
    return () => observer.disconnect();
  }, [place, step]);
  return holder;
}
