import { useCallback, useRef, useState } from "react";
import type { Edit } from "../api/types";
import { useEscape } from "../app/useEscape";
import { useFloor, useHead } from "../floor/context";
import type { Stand } from "../model/outline";
import { roundStep } from "../model/units";

/** A drag under way: which section, and where its station is now, mm along the body. */
export interface Drag {
  section: string;
  at: number;
}

interface Grip {
  stand: Stand;
  /** mm along the body for each pixel of the way. */
  perPixel: number;
  /** Offset of the station at the start. */
  offset: number;
  at: number;
  moved: boolean;
}

/** Two clicks within so many ms open the board. */
const TWICE = 600;

/** Dragging a station along its body, on the Run or in the scene: the body follows, letting go keeps it, Esc puts it back. */
export function useStationDrag() {
  const { live, change, place } = useFloor();
  const { design } = useHead();
  const [drag, setDrag] = useState<Drag | null>(null);
  const grip = useRef<Grip | null>(null);
  const clicked = useRef<{ section: string; at: number } | null>(null);
  const { unit } = design.document;

  const edit = useCallback(
    (stand: Stand, offset: number): Edit[] => [
      { do: "set-param", step: stand.station, path: ["offset"], value: offset },
    ],
    [],
  );

  const start = (stand: Stand, perPixel: number) => {
    const summary = live.built.getState().steps[stand.station]?.summary;
    const offset = summary?.result === "station" ? summary.offset : stand.at;
    grip.current = { stand, perPixel, offset, at: stand.at, moved: false };
  };
  const offsetNow = (held: Grip) => round(held.offset + (held.at - held.stand.at) / rateOf(held.stand));
  /** pixels: the way from where it was taken hold of. */
  const move = (pixels: number, fine: boolean) => {
    const held = grip.current;
    if (!held) return;
    if (!held.moved && Math.abs(pixels) < 3) return;
    held.moved = true;
    const grid = fine ? roundStep(unit) / 10 : roundStep(unit);
    held.at = round(Math.round((held.stand.at + pixels * held.perPixel) / grid) * grid);
    setDrag({ section: held.stand.section, at: held.at });
    live.preview(design, edit(held.stand, offsetNow(held)));
  };
  /** when: of the pointer, ms; a page that is slow to hear of two clicks still tells how near they were to each other. */
  const release = (when = performance.now()) => {
    const held = grip.current;
    grip.current = null;
    if (!held) return;
    place.setState({ selected: held.stand.section });
    if (!held.moved) {
      const again = clicked.current?.section === held.stand.section && when - clicked.current.at < TWICE;
      clicked.current = { section: held.stand.section, at: when };
      if (again && held.stand.section !== held.stand.station) place.setState({ board: held.stand.section });
      return;
    }
    if (held.at === held.stand.at) {
      live.preview(design, []);
      setDrag(null);
      return;
    }
    // the thumbnail stays where it was let go until the design has followed
    void change(edit(held.stand, offsetNow(held))).then((kept) => {
      if (kept === null) live.preview(design, []);
      setDrag(null);
    });
  };
  const cancel = useCallback(() => {
    if (!grip.current?.moved) return false;
    grip.current = null;
    setDrag(null);
    live.preview(design, []);
    return true;
  }, [live, design]);

  useEscape(cancel);

  /** Arrow keys on a thumbnail: one round step, ten with Shift. */
  const nudge = (stand: Stand, direction: number, large: boolean) => {
    const summary = live.built.getState().steps[stand.station]?.summary;
    if (summary?.result !== "station") return;
    const way = (1 / rateOf(stand)) * direction * roundStep(unit) * (large ? 10 : 1);
    // keys may repeat faster than changes are kept: each goes on from where the one before it ends
    void change((now) => {
      const kept = now.steps.find((step) => step.id === stand.station)?.params["offset"];
      return edit(stand, round((typeof kept === "number" ? kept : summary.offset) + way));
    });
  };

  return { drag, start, move, release, nudge };
}

/** A station that lies along the body can't be dragged along it. */
const rateOf = (stand: Stand): number => (Math.abs(stand.rate) > 1e-3 ? stand.rate : 1);

const round = (value: number): number => Math.round(value * 1e6) / 1e6;
