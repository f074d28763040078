import { useSnackbar } from "notistack";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useStore } from "zustand";
import { createStore } from "zustand/vanilla";
import { api } from "../api/client";
import { queries } from "../api/queries";
import type { Edit, HoldKind, Step } from "../api/types";
import { broughtBefore } from "../model/order";
import { useDocument, useFloor, useHead } from "../floor/context";
import { along, apart, drawnOf, pointAt, isDrawn, type Act, type Curve, type Drawn, type XY } from "./drawing";
import { stillThere } from "../steps/heldToRails";
import { joins, railsIn, type Spot } from "./snap";
import { placedOn } from "./placed";
import type { Handle } from "./SplineMarks";
import type { Box } from "./gathered";
import { lasting, PLACE, placedBy, SCALE_PICTURE, toolOf, type Tool } from "./tools";
import { useTyped, type Field } from "../sheet/useTyped";
import { useAsTold } from "./useAsTold";

/** What the designer is doing on the board. tool: null pulls and picks. */
export interface Doing {
  tool: string | null;
  picks: readonly Spot[];
  /** How many picks were made that are not taken yet. */
  pending: number;
  picked: readonly string[];
  /** What a hold in the list is on, while it is pointed at. */
  lit: readonly string[];
  /** As it stands in the fields of the tool. */
  typed: Readonly<Record<string, string>>;
  pointer: Spot | null;
  /** What is being dragged. */
  drag: string | null;
  /** Drawn round what is to be picked. */
  box: Box | null;
  grid: boolean;
  underlay: boolean;
  /** Seen from behind. */
  mirrored: boolean;
  /** The reference picture that is being scaled. */
  scaled: string | null;
  /** How often the sheet was asked to fit the drawing. */
  fits: number;
  /** How many changes are on their way to be kept. */
  busy: number;
}

const IDLE: Doing = {
  tool: null,
  picks: [],
  pending: 0,
  picked: [],
  lit: [],
  typed: {},
  pointer: null,
  drag: null,
  box: null,
  grid: true,
  underlay: true,
  mirrored: false,
  scaled: null,
  fits: 0,
  busy: 0,
};

/** Where something is being dragged to, and the acts that this comes to. */
export interface Way {
  to: XY | null;
  /** Where that was when the drawing was last told: what goes with it on the sheet goes there. */
  seen: XY | null;
  acts: Act[];
  /** What comes with it when it is let go: a point on a point is one point, on a curve it stays there. */
  joined: Act[];
}
/** What can be typed while no tool is chosen. */
const NO_FIELDS: readonly Field[] = [];
const NO_RULES: readonly HoldKind[] = [];
/** How many times as strongly as by itself a spline can be led through a point. */
const LONGEST = 20;
const NO_WAY: Way = { to: null, seen: null, acts: [], joined: [] };
/** Milliseconds after which what goes with the hand no longer waits for the drawing. */
const SOON = 80;

/** Everything the board needs of one section: the drawing as it is now, what is being done, and the ways to change it. */
export function useBoard(section: Step) {
  const { change, cut, live } = useFloor();
  const { design } = useHead();
  const [store] = useState(() => createStore<Doing>(() => IDLE));
  const held = useCallback(() => store.getState().drag !== null, [store]);
  const asTold = useAsTold(section.id, held);
  const { status, lines } = asTold;
  const [way] = useState(() => createStore<Way>(() => NO_WAY));
  const doing = useStore(store);
  const fresh = !isDrawn(section);
  const { data: asDrawn } = useQuery({ ...queries.asDrawn(design.id, design.revision, section.id), enabled: fresh });
  const begun = fresh ? asDrawn : undefined;
  const settled: Drawn = useMemo(() => drawnOf(section, status, begun), [section, status, begun]);
  const drawn = useMemo(() => (lines ? along(settled, lines) : settled), [settled, lines]);
  const { steps } = useDocument();
  // a rail that a point is held to is made before what is drawn by it
  const edit = useCallback(
    (acts: Act[]): Edit[] => [
      ...railsIn(acts).flatMap((rail) => broughtBefore(section.id, rail, steps) ?? []),
      { do: "draw", step: section.id, acts: [...stillThere(settled.holds, settled.points), ...acts] },
    ],
    [section.id, steps, settled],
  );
  const during = useCallback(
    async <T>(work: Promise<T>): Promise<T> => {
      store.setState(({ busy }) => ({ busy: busy + 1 }));
      try {
        return await work;
      } finally {
        store.setState(({ busy }) => ({ busy: busy - 1 }));
      }
    },
    [store],
  );
  const { enqueueSnackbar } = useSnackbar();
  const act = useCallback(
    async (acts: Act[]) => {
      const kept = await during(change(edit(acts)));
      if (fresh && kept)
        enqueueSnackbar(`${section.name} is a drawing from now on. Undo gives it back the shape that it had.`);
      return kept;
    },
    [during, change, edit, fresh, section.name, enqueueSnackbar],
  );

  const { data: rules = NO_RULES } = useQuery(queries.holds());
  const holdTitle = useCallback((type: string) => rules.find((rule) => rule.type === type)?.title ?? type, [rules]);

  useEffect(() => {
    live.hurry(true);
    return () => live.hurry(false);
  }, [live]);

  const tool = toolOf(doing.tool);
  const choose = useCallback(
    (id: string | null, scaled: string | null = null) =>
      store.setState(({ tool: before, picks }) => ({
        tool: id,
        scaled,
        // from lines to arcs and back a chain goes on
        picks: toolOf(before)?.goesOn && toolOf(id)?.goesOn ? picks : [],
        typed: {},
        ...(id === null || toolOf(id)?.corners ? {} : { picked: [] }),
      })),
    [store],
  );
  const fields = useMemo(() => (tool ? [...(tool.fields ?? []), ...PLACE] : NO_FIELDS), [tool]);
  const told = useTyped(fields, doing.typed);
  /** Comes to an end when what the tool makes of the picks is kept, or refused. */
  const make = useCallback(
    async (tool: Tool, offered: readonly Spot[], done: boolean, texts: Doing["typed"]) => {
      /** Another tool may be in the hand by now. */
      const stays = () => {
        const now = toolOf(store.getState().tool);
        return now === tool || Boolean(now?.goesOn && tool.goesOn);
      };
      const again = (left: Doing["typed"]) => store.setState((now) => ({ typed: { ...left, ...now.typed } }));
      const typed = await told(texts);
      const newest = offered.at(-1);
      const placed = newest && placedBy(newest, typed);
      const there = placed?.fixed ? pointAt(drawn, placed.at) : undefined;
      const picks = done || !placed ? offered : [...offered.slice(0, -1), there ? { ...placed, point: there } : placed];
      if (tool.id === SCALE_PICTURE.id) {
        const [a, b] = picks;
        store.setState({ picks });
        const { distance } = typed;
        const { scaled } = store.getState();
        if (!a || !b || !distance || !scaled) return;
        const { out } = placedOn(section);
        await change([
          { do: "scale-picture", step: scaled, first: [...out(a.at)], second: [...out(b.at)], distance: distance.text },
        ]);
        choose(null);
        return;
      }
      const acts = tool.make(picks, typed, drawn, done);
      if (acts === null) {
        store.setState({ picks: done ? [] : picks });
        again(lasting(texts));
        return;
      }
      const last = picks.at(-1);
      // what makes nothing was picked by mistake
      if (stays()) store.setState({ picks: !acts.length ? picks.slice(0, -1) : tool.goesOn && last ? [last] : [] });
      if (!acts.length) {
        again(lasting(texts));
        return;
      }
      const before = new Set(Object.keys(drawn.points));
      const kept = await act(acts);
      if (kept === null) {
        store.setState({ picks: [] });
        again(texts);
        return;
      }
      if (tool.goesOn && last && !last.point) {
        // the chain goes on from the point that was just made
        const shape = kept.document.steps.find((s) => s.id === section.id)?.params["shape"] as {
          points: Record<string, XY>;
        };
        const fresh = Object.keys(shape.points).filter((p) => !before.has(p));
        const end = fresh.at(-1);
        const at = end === undefined ? undefined : shape.points[end];
        if (end !== undefined && at && stays()) store.setState({ picks: [{ at, point: end, way: "point" }] });
      }
    },
    [store, act, section, drawn, told, change, choose],
  );
  const latest = useRef(make);
  useEffect(() => {
    latest.current = make;
  }, [make]);
  const turn = useRef<Promise<unknown>>(Promise.resolve());
  /** One pick more, or, with none, the end of what is drawn: in turn, for the hand may be quicker than answers. What is typed from then on is for the next. */
  const offer = useCallback(
    (asked: Spot | ((picks: readonly Spot[]) => Spot | null) | null) => {
      const { typed } = store.getState();
      const one = asked ? 1 : 0;
      store.setState(({ pending }) => ({
        pending: pending + one,
        ...(tool?.group === "draw" ? { typed: {} } : {}),
      }));
      const taken = turn.current
        .then(() => {
          const { picks } = store.getState();
          const spot = typeof asked === "function" ? asked(picks) : asked;
          return tool && latest.current(tool, spot ? [...picks, spot] : picks, spot === null, typed);
        })
        .finally(() => store.setState(({ pending }) => ({ pending: pending - one })));
      turn.current = taken.catch(() => undefined);
      return during(taken);
    },
    [during, store, tool],
  );
  const drag = useCallback(
    (thing: string, to: XY, acts: Act[], joined: Act[] = []) => {
      live.preview(design, acts.length ? edit(acts) : []);
      // the sheet is drawn anew when the answer comes, not for every move of the hand
      way.setState({ to, acts, joined });
      setTimeout(() => way.setState((now) => (now.to === to ? { seen: to } : now)), SOON);
      if (store.getState().drag !== thing) store.setState({ drag: thing });
    },
    [store, way, live, design, edit],
  );
  const pull = useCallback(
    (point: string, { at, ...spot }: Spot) =>
      drag(point, at, [{ act: "pull", points: { [point]: [at[0], at[1]] } }], joins(drawn, point, { at, ...spot })),
    [drag, drawn],
  );
  /** A circle pulled by its line. */
  const resize = useCallback(
    (circle: Curve, to: XY) => {
      const center = drawn.points[circle.center ?? ""];
      const radius = center ? Math.round(apart(center, to) * 1e3) / 1e3 : 0;
      if (radius > 0) drag(circle.id, to, [{ act: "resize", curve: circle.id, radius }]);
    },
    [drag, drawn],
  );
  /** Things pulled along together, as they stand to each other. */
  const carry = useCallback(
    (grabbed: string, points: Readonly<Record<string, XY>>, [dx, dy]: XY) => {
      const moved = Object.entries(points).map(([id, [x, y]]): [string, [number, number]] => [id, [x + dx, y + dy]]);
      const first = moved[0]?.[1];
      if (first) drag(grabbed, first, [{ act: "pull", points: Object.fromEntries(moved) }]);
    },
    [drag],
  );
  /** A spline is led through one of its points another way: by a rod that is pulled, or by a tooth of its comb. */
  const bend = useCallback(
    ({ curve, at, from, side, own, ...now }: Handle, to: XY) => {
      const led = (angle: number, pull: number, bend: number | null | undefined) =>
        drag(`${curve} ${at}`, to, [{ act: "spline-handle", curve, at, angle, pull, bend: bend ?? null }]);
      const off: XY = [to[0] - from[0], to[1] - from[1]];
      if (side === 0) {
        const long = off[0] * now.left[0] + off[1] * now.left[1] - now.off;
        led(now.angle, now.pull, Math.round((-long / own) * 1e6) / 1e6);
        return;
      }
      const [dx, dy] = [side * off[0], side * off[1]];
      const angle = Math.round(((Math.atan2(dy, dx) * 180) / Math.PI) * 10) / 10;
      const pull = Math.min(Math.round((Math.hypot(dx, dy) / own) * 100) / 100, LONGEST);
      if (pull > 0) led(angle, pull, now.bend);
    },
    [drag],
  );
  /** Curves beside others, as far as they are pulled out of them; none where they would lie on them. */
  const offset = useCallback(
    (curves: string[], distance: number, to: XY) =>
      drag(curves[0] ?? "", to, distance ? [{ act: "offset", curves, distance }] : []),
    [drag],
  );
  const release = useCallback(
    (things: readonly string[]) => during(cut((base, id) => api.release(id, base, section.id, [...things]))),
    [during, cut, section.id],
  );
  const letGo = useCallback(
    async (keep: boolean) => {
      if (store.getState().drag === null) return;
      const { to, acts, joined } = way.getState();
      // what can't be joined is left where it was let go
      if (keep && acts.length) void ((await act([...acts, ...joined])) ?? (joined.length ? await act(acts) : null));
      else live.preview(design, []);
      // the hand is where it pulled to, which was not told with every move
      store.setState({ drag: null, ...(to ? { pointer: { at: to, way: "" } } : {}) });
      way.setState(NO_WAY);
    },
    [store, way, act, live, design],
  );
  return {
    section,
    rules,
    holdTitle,
    doing,
    store,
    way,
    drawn,
    begun,
    asTold,
    loading: fresh && !asDrawn,
    status,
    tool,
    act,
    choose,
    offer,
    pull,
    resize,
    carry,
    bend,
    offset,
    release,
    letGo,
    told,
    typed: told.now,
  };
}

export type BoardState = ReturnType<typeof useBoard>;
