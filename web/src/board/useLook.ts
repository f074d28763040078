import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useDocument } from "../floor/context";
import type { XY } from "./drawing";
import { extentOf, fit, gridStep, roomFor, type GridSteps, type Look } from "./sheetLook";
import type { Underlay } from "./useUnderlay";
import type { BoardState } from "./useBoard";

interface InWindow {
  clientX: number;
  clientY: number;
  type: string;
  buttons: number;
}

/** The part of the sheet that is seen. */
export interface Seen {
  size: { width: number; height: number };
  look: Look;
  /** Whether what is drawn has been brought into sight: before that it is not drawn, for it would be three times. */
  fitted: boolean;
  /** -1: seen from behind. */
  flip: 1 | -1;
  grid: GridSteps;
  toSheet: (at: InWindow) => XY;
  toScreen: (p: XY) => XY;
  /** Moved by pixels from what was seen before. */
  pan: (from: Look, dx: number, dy: number) => void;
}

const same = (a: Look, b: Look): boolean => a.x === b.x && a.y === b.y && a.scale === b.scale;

const AT_FIRST: Look = { x: 0, y: 0, scale: 0.2 };

/** The place that the sheet fills, to be set, and what is seen of it: fitted to the drawing as it is opened and when that is asked for, zoomed to the pointer by the wheel, widened for what is drawn outside of it. */
export function useLook(
  board: BoardState,
  underlay: Underlay,
  landing: readonly XY[],
): [(place: HTMLDivElement | null) => void, Seen] {
  const { doing, drawn, loading } = board;
  const { unit } = useDocument();
  const [holder, within] = useState<HTMLDivElement | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
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
  // an empty sheet follows what lies under it, which comes a moment later, until something is begun or looked at more closely
  const empty = Object.keys(drawn.points).length === 0 && doing.picks.length + doing.pending === 0;
  const fitted = useRef(-1);
  const chosen = useRef(false);
  useEffect(() => {
    if (!known || loading || size.width < 50) return;
    const asked = fitted.current !== doing.fits;
    fitted.current = doing.fits;
    if (asked) chosen.current = false;
    // what is drawn is where it was looked at
    if (!asked && (!empty || chosen.current)) return;
    const next = fit([...extentOf(board, underlay), ...landing], size);
    setLook((old) => (old && same(old, next) ? old : next));
  }, [known, loading, size, board, underlay, landing, doing.fits, empty]);

  const last = useRef(drawn.points);
  useEffect(() => {
    const before = last.current;
    last.current = drawn.points;
    const fresh = Object.entries(drawn.points).flatMap(([id, at]) => (before[id] ? [] : [at]));
    if (board.tool?.group !== "draw" || !fresh.length || doing.drag) return;
    // what was drawn by numbers may lie where nothing is seen of it
    setLook((old) => (old ? roomFor(old, fresh, size) : old));
  }, [drawn.points, board.tool, doing.drag, size]);

  const flip = doing.mirrored ? -1 : 1;
  useEffect(() => {
    if (!holder) return;
    const zoom = (event: WheelEvent) => {
      event.preventDefault();
      const factor = Math.exp(event.deltaY * 0.0015);
      chosen.current = true;
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

  const place = useRef({ left: 0, top: 0 });
  const now = look ?? AT_FIRST;
  // the same as long as the sheet is seen as it was: what is drawn by it is drawn anew only then
  const seen = useMemo((): Seen => {
    const { x, y, scale } = now;
    /** Where the sheet begins in the window. It stays there while the hand is down: to ask for it lays out all that was just drawn. */
    const begins = ({ type, buttons }: InWindow) => {
      if (holder && (type !== "pointermove" || !buttons)) place.current = holder.getBoundingClientRect();
      return place.current;
    };
    return {
      size,
      look: now,
      fitted: look !== null,
      flip,
      grid: gridStep(scale, unit),
      toSheet: (at) => {
        const { left, top } = begins(at);
        const [px, py] = [at.clientX - left, at.clientY - top];
        return [flip * ((px - size.width / 2) * scale) + x, (size.height / 2 - py) * scale + y];
      },
      toScreen: (p) => [size.width / 2 + (flip * (p[0] - x)) / scale, size.height / 2 - (p[1] - y) / scale],
      pan: (from, dx, dy) => {
        chosen.current = true;
        setLook({ ...from, x: from.x - flip * dx * from.scale, y: from.y + dy * from.scale });
      },
    };
  }, [look, now, size, flip, unit, holder]);
  return [within, seen];
}
