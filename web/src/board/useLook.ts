import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useDocument } from "../floor/context";
import type { XY } from "./drawing";
import { extentOf, fit, gridStep, type GridSteps, type Look } from "./sheetLook";
import type { Underlay } from "./useUnderlay";
import type { BoardState } from "./useBoard";

interface InWindow {
  clientX: number;
  clientY: number;
}

/** The part of the sheet that is seen. */
export interface Seen {
  size: { width: number; height: number };
  look: Look;
  /** -1: seen from behind. */
  flip: 1 | -1;
  grid: GridSteps;
  toSheet: (at: InWindow) => XY;
  toScreen: (p: XY) => XY;
  /** Moved by pixels from what was seen before. */
  pan: (from: Look, dx: number, dy: number) => void;
}

const AT_FIRST: Look = { x: 0, y: 0, scale: 0.2 };

/** The place that the sheet fills, to be set, and what is seen of it: fitted to the drawing as it is opened and when that is asked for, zoomed to the pointer by the wheel. */
export function useLook(
  board: BoardState,
  underlay: Underlay,
  landing: readonly XY[],
): [(place: HTMLDivElement | null) => void, Seen] {
  const { doing, drawn, loading } = board;
  const { unit } = useDocument();
  const [holder, within] = useState<HTMLDivElement | null>(null);
  const [size, setSize] = useState({ width: 800, height: 600 });
  const [look, setLook] = useState<Look | null>(null);

  useLayoutEffect(() => {
    if (!holder) return;
    const measure = () => setSize({ width: holder.clientWidth, height: holder.clientHeight });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(holder);
    return () => observer.disconnect();
  }, [holder]);

  const known =
    landing.length + underlay.ghosts.length + Object.keys(drawn.points).length + (drawn.now?.curves.length ?? 0) > 0;
  // an empty sheet is fitted once more when the outlines of bodies come, a moment later
  const empty = Object.keys(drawn.points).length === 0;
  const fitted = useRef({ fits: -1, waits: false });
  useEffect(() => {
    if (!known || loading || size.width < 50) return;
    const outlined = underlay.round !== "";
    const { fits, waits } = fitted.current;
    const late = waits && empty && outlined;
    // what is drawn is where it was looked at
    fitted.current = { fits: doing.fits, waits: empty && !outlined && (waits || fits !== doing.fits) };
    if (late || fits !== doing.fits) setLook(fit([...extentOf(board, underlay), ...landing], size));
  }, [known, loading, size, board, underlay, landing, doing.fits, empty]);

  const flip = doing.mirrored ? -1 : 1;
  useEffect(() => {
    if (!holder) return;
    const zoom = (event: WheelEvent) => {
      event.preventDefault();
      const factor = Math.exp(event.deltaY * 0.0015);
      setLook((old) => {
        const now = old ?? AT_FIRST;
        const bounds = holder.getBoundingClientRect();
        const [px, py] = [
          event.clientX - bounds.left - bounds.width / 2,
          bounds.height / 2 - (event.clientY - bounds.top),
        ];
        const next = Math.min(Math.max(now.scale * factor, 1e-4), 50);
        return { x: now.x + flip * px * (now.scale - next), y: now.y + py * (now.scale - next), scale: next };
      });
    };
    holder.addEventListener("wheel", zoom, { passive: false });
    return () => holder.removeEventListener("wheel", zoom);
  }, [holder, flip]);

  const now = look ?? AT_FIRST;
  // the same as long as the sheet is seen as it was: what is drawn by it is drawn anew only then
  const seen = useMemo((): Seen => {
    const { x, y, scale } = now;
    return {
      size,
      look: now,
      flip,
      grid: gridStep(scale, unit),
      toSheet: (at) => {
        const bounds = holder?.getBoundingClientRect();
        const [px, py] = [at.clientX - (bounds?.left ?? 0), at.clientY - (bounds?.top ?? 0)];
        return [flip * ((px - size.width / 2) * scale) + x, (size.height / 2 - py) * scale + y];
      },
      toScreen: (p) => [size.width / 2 + (flip * (p[0] - x)) / scale, size.height / 2 - (p[1] - y) / scale],
      pan: (from, dx, dy) => setLook({ ...from, x: from.x - flip * dx * from.scale, y: from.y + dy * from.scale }),
    };
  }, [now, size, flip, unit, holder]);
  return [within, seen];
}
