import { useRef, type MouseEvent, type PointerEvent } from "react";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { reachFrom } from "./beside";
import { apart, type Curve, type XY } from "./drawing";
import { isAxis } from "./ground";
import { chainOf, inBox, pointsUnder, type Box } from "./gathered";
import { snap, type Spot } from "./snap";
import type { BoardState } from "./useBoard";
import type { Seen } from "./useLook";
import { handlesOf, type Handle } from "./SplineMarks";
import type { Look } from "./sheetLook";
import type { Landing } from "./useLanding";
import { OUTLINES, type Underlay } from "./useUnderlay";

const NEAR = 9;
/** Pixels within which two picks in a row are one. */
const SAME = 3;
/** Pixels from which on a press that goes on is a stroke: it draws from where it began to where it ends. */
const STROKE = 12;
/** Milliseconds in which the lines of a move are mostly there. */
const AFTER_LINES = 40;
/** The share of the way of a pulled point from which on another comes along with it. */
const ALONG = 0.25;

/** What the hand holds while it is down. */
type Held =
  | { kind: "sheet"; look: Look }
  | { kind: "place"; spot: Spot }
  | { kind: "point"; point: string; begun: Readonly<Record<string, XY>> }
  | { kind: "rim"; circle: Curve }
  | { kind: "handle"; handle: Handle }
  | { kind: "things"; grabbed: string; points: Record<string, XY>; from: XY }
  | { kind: "beside"; curves: string[]; reach: (at: XY) => number }
  | { kind: "landing"; from: XY }
  | { kind: "box"; from: XY };

interface Press {
  held: Held;
  x: number;
  y: number;
  moved: boolean;
  /** What is drawn began where the hand came down. */
  stroke: boolean;
}

/** A point that is pulled, and those that it takes along: where they are is no place to join it to. */
function comingAlong(
  pulled: string,
  begun: Readonly<Record<string, XY>>,
  now: Readonly<Record<string, XY>>,
): Set<string> {
  const moved = (point: string) => apart(begun[point] ?? [0, 0], now[point] ?? begun[point] ?? [0, 0]);
  const far = moved(pulled) * ALONG;
  return new Set([pulled, ...Object.keys(begun).filter((point) => moved(point) > Math.max(far, 1e-9))]);
}

const nameOf = (element: Element | null | undefined, what: "point" | "curve" | "region" | "ground"): string | null =>
  element?.closest(`[data-${what}]`)?.getAttribute(`data-${what}`) ?? null;

/** The hand on the sheet: what it picks, pulls, draws and gathers. */
export function usePen(board: BoardState, seen: Seen, underlay: Underlay, landing: Landing) {
  const { doing, store, drawn, tool, offer, act, pull, resize, carry, bend, offset, letGo } = board;
  const { look, grid, toSheet, pan } = seen;
  const { scale } = look;
  const { unit } = useDocument();
  const press = useRef<Press | null>(null);
  const meant = useRef<Spot | null>(null);
  const saying = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** What a pulled point would be joined to is said when that changes, and a moment after the lines: the whole sheet is drawn anew for it. */
  const say = () => {
    saying.current = undefined;
    const { pointer, drag } = store.getState();
    const { current } = meant;
    if (drag !== null && current && (pointer?.way !== current.way || pointer.point !== current.point))
      store.setState({ pointer: current });
  };

  /** Met under the drawing, not in it. */
  const underlaid = ({ way }: Spot): boolean => [...underlay.spots, ...underlay.lines].some((met) => met.way === way);

  const spotAt = (event: PointerEvent, without?: ReadonlySet<string>): Spot => {
    const pointer = toSheet(event);
    const found = snap(pointer, drawn, {
      near: NEAR * scale,
      grid: doing.grid && !event.altKey ? grid.fine : 0,
      from: doing.picks.at(-1)?.at,
      ...(without ? { without } : {}),
      ...(doing.underlay ? { under: underlay.spots, lines: underlay.lines } : {}),
    });
    if (!tool) return found;
    // while the sheet holds the pointer, every event says that it is on the sheet
    const target = document.elementFromPoint(event.clientX, event.clientY) ?? event.currentTarget;
    const curve = nameOf(target, "curve") ?? undefined;
    if (tool.id === "trace") {
      const named = target.closest("[data-trace]")?.getAttribute("data-trace") ?? "";
      // names of edges have bars in them too
      const bar = named.indexOf("|");
      const [step, part] = bar < 0 ? [] : [named.slice(0, bar), named.slice(bar + 1)];
      if (!step || !part) return { at: pointer, way: "" };
      const outline = OUTLINES[part];
      const hint = outline ? underlay.within(step, pointer) : null;
      return { at: pointer, way: outline ?? "edge", trace: { step, part, ...(hint ? { hint } : {}) } };
    }
    if (tool.group === "change" && !["fillet", "chamfer"].includes(tool.id)) {
      const on = curve ?? found.on ?? found.middle;
      return { at: pointer, way: on ? "curve" : "", ...(on ? { on } : {}) };
    }
    if (curve && !found.point && !found.middle && !found.on && !underlaid(found))
      return { ...found, on: curve, way: "on the curve" };
    return found;
  };

  /** What a press takes hold of. */
  const taken = (event: PointerEvent): Held => {
    if (event.button !== 0) return { kind: "sheet", look };
    if (landing.file) return { kind: "landing", from: toSheet(event) };
    const target = event.target as Element;
    const along = nameOf(target, "curve");
    if (tool?.id === "offset" && along) {
      const curves = chainOf(drawn, along);
      return { kind: "beside", curves, reach: reachFrom(drawn, curves) };
    }
    if (tool) return { kind: "place", spot: spotAt(event) };
    const rod = target.closest("[data-handle]")?.getAttribute("data-handle");
    const handle =
      rod && handlesOf(drawn, store.getState().picked, scale).find((h) => `${h.curve} ${h.at} ${h.side}` === rod);
    if (handle) return { kind: "handle", handle };
    const point = nameOf(target, "point");
    const curve = drawn.curves.find(({ id }) => id === along);
    const grabbed = point ?? curve?.id;
    if (!grabbed) return { kind: "box", from: toSheet(event) };
    const { picked } = store.getState();
    const together = picked.length > 1 && picked.includes(grabbed);
    if (point && !together) return { kind: "point", point, begun: drawn.points };
    if (curve?.type === "circle" && !together) return { kind: "rim", circle: curve };
    const places = pointsUnder(drawn, together ? picked : [grabbed]).flatMap((id): [string, XY][] => {
      const at = drawn.points[id];
      return at ? [[id, at]] : [];
    });
    // what is traced goes where its body goes
    if (!places.length) return { kind: "box", from: toSheet(event) };
    return { kind: "things", grabbed, points: Object.fromEntries(places), from: toSheet(event) };
  };

  const down = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    press.current = { held: taken(event), x: event.clientX, y: event.clientY, moved: false, stroke: false };
  };

  /** Whether a press that goes on draws: there is more to be picked, and nothing is yet. */
  const strokes = tool?.group === "draw" && tool.asks.length > 1 && !doing.picks.length;

  /** By whole steps of the grid, unless Alt is held. */
  const way = (from: XY, event: PointerEvent): XY => {
    const to = toSheet(event);
    const step = doing.grid && !event.altKey ? grid.fine : 0;
    const by = (axis: 0 | 1) => (step ? Math.round((to[axis] - from[axis]) / step) * step : to[axis] - from[axis]);
    return [by(0), by(1)];
  };

  const dragged = (now: Press, event: PointerEvent): void => {
    const { held, x, y } = now;
    switch (held.kind) {
      case "sheet":
        pan(held.look, event.clientX - x, event.clientY - y);
        break;
      case "point": {
        const spot = spotAt(event, comingAlong(held.point, held.begun, drawn.points));
        pull(held.point, spot);
        meant.current = spot;
        saying.current ??= setTimeout(say, AFTER_LINES);
        break;
      }
      case "rim":
        resize(held.circle, spotAt(event).at);
        break;
      case "handle":
        bend(held.handle, toSheet(event));
        break;
      case "things":
        carry(held.grabbed, held.points, way(held.from, event));
        break;
      case "beside": {
        const off = held.reach(toSheet(event));
        const step = doing.grid && !event.altKey ? grid.fine : 0;
        const distance = Math.round((step ? Math.round(off / step) * step : off) * 1e3) / 1e3;
        offset(held.curves, distance, toSheet(event));
        store.setState({ pointer: { at: toSheet(event), way: `${lengthNumber(distance, unit)} ${unit}` } });
        break;
      }
      case "landing":
        landing.setShift(way(held.from, event));
        break;
      case "box":
        store.setState({ box: [held.from, toSheet(event)] });
        break;
      case "place":
        if (!now.stroke && strokes && Math.hypot(event.clientX - x, event.clientY - y) > STROKE) {
          now.stroke = true;
          void offer(held.spot);
        }
        store.setState({ pointer: spotAt(event) });
    }
  };

  const move = (event: PointerEvent<SVGSVGElement>) => {
    const { current } = press;
    if (current && (current.moved || Math.hypot(event.clientX - current.x, event.clientY - current.y) > SAME)) {
      current.moved = true;
      dragged(current, event);
      return;
    }
    store.setState({ pointer: spotAt(event) });
  };

  const up = (event: PointerEvent<SVGSVGElement>) => {
    const { current } = press;
    press.current = null;
    if (!current) return;
    const { held, moved, stroke } = current;
    if (held.kind === "place" || (held.kind === "beside" && !moved)) {
      const spot = spotAt(event);
      const last = stroke ? undefined : doing.picks.at(-1);
      // the second click of two that end a curve is no place of its own
      if (!last || apart(last.at, spot.at) > SAME * scale) void offer(spot);
      return;
    }
    if (held.kind === "landing") {
      if (moved) landing.settle(way(held.from, event));
      return;
    }
    if (held.kind === "box" && moved) {
      gather([held.from, toSheet(event)], event.currentTarget, event.shiftKey);
      return;
    }
    if (moved) {
      void letGo(true);
      return;
    }
    if (held.kind === "point" || held.kind === "rim" || held.kind === "things" || held.kind === "box")
      picked(event, held.kind === "point" ? held.point : null);
  };

  /** Everything that a box holds is picked; with Shift it comes to what is. */
  const gather = (box: Box, sheet: SVGSVGElement, more: boolean) => {
    const extent = (curve: string): Box | null => {
      const path = sheet.querySelector<SVGPathElement>(`[data-curve="${curve}"] path`)?.getBBox();
      return path
        ? [
            [path.x, path.y],
            [path.x + path.width, path.y + path.height],
          ]
        : null;
    };
    const found = inBox(drawn, box, extent);
    store.setState(({ picked }) => ({ box: null, picked: more ? [...new Set([...picked, ...found])] : found }));
  };

  const picked = (event: PointerEvent, point: string | null) => {
    const more = event.shiftKey || event.ctrlKey;
    const under = document.elementsFromPoint(event.clientX, event.clientY);
    const named = (what: "curve" | "ground") => under.map((element) => nameOf(element, what)).find((id) => id);
    const met = point ?? named("curve") ?? named("ground") ?? null;
    const region = under.map((element) => element.getAttribute("data-region")).find((name) => name);
    const choice = region && (drawn.now?.regions.length ?? 0) > 1;
    // an axis runs through areas: one of several that is not the outline yet is meant before it
    const open = choice && drawn.now?.regions.some(({ name, used }) => name === region && !used);
    const thing = open && met && isAxis(met) ? null : met;
    if (!thing && choice) takeRegion(region, event.shiftKey);
    store.setState(({ picked }) => {
      if (thing === null) return { picked: more ? picked : [] };
      if (!more) return { picked: [thing] };
      return { picked: picked.includes(thing) ? picked.filter((p) => p !== thing) : [...picked, thing] };
    });
  };

  /** A click into an area makes it the outline; with Shift it joins those that make it, or leaves them. */
  const takeRegion = (name: string, more: boolean) => {
    // what was chosen a moment ago is chosen, worked out or not
    const regions = drawn.now?.regions ?? [];
    const used = regions.filter(({ name, used }) => drawn.use?.includes(name) ?? used).map((r) => r.name);
    const rest = used.filter((r) => r !== name);
    const wanted = !more ? [name] : used.includes(name) ? rest : [...used, name];
    if (wanted.length && wanted.join() !== used.join()) void act([{ act: "use", regions: wanted }]);
  };

  return {
    onPointerDown: down,
    onPointerMove: move,
    onPointerUp: up,
    onPointerLeave: () => {
      // while something is being drawn, what it would be stays in sight: its numbers are typed
      if (!doing.picks.length) store.setState({ pointer: null });
    },
    onDoubleClick: (event: MouseEvent) => {
      if (tool) {
        void offer(null);
        return;
      }
      // the sheet held the pointer, so the event is its own
      const curve = nameOf(document.elementFromPoint(event.clientX, event.clientY), "curve");
      if (curve) store.setState({ picked: chainOf(drawn, curve) });
    },
    onContextMenu: (event: MouseEvent) => event.preventDefault(),
  };
}
