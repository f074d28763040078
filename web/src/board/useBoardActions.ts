import { useCallback, useEffect, useRef } from "react";
import { useNavigate } from "react-router";
import { useFloor, useHead } from "../floor/context";
import { designActions } from "../floor/designActions";
import type { Action } from "../reach/actions";
import { KEYS, PULL } from "./keys";
import { TOOLS } from "./tools";
import type { BoardState } from "./useBoard";

const ALIKE: Record<string, string> = {
  line: "straight chain polyline",
  spline: "curve freeform batten smooth",
  poles: "curve bezier control points",
  bend: "tangent arc hook smooth continue",
  rectangle: "box square",
  centred: "box square middle center symmetric",
  rounded: "box square soft",
  fillet: "round corner radius",
  chamfer: "bevel corner",
  trim: "cut away erase",
  split: "divide break",
  trace: "project edge outline silhouette cut of a body",
};

/** Everything that can be done on the board, by name; put together when it is asked for. */
export function useBoardActions(board: BoardState, back: () => void): () => Action[] {
  const floor = useFloor();
  const head = useHead();
  const navigate = useNavigate();
  const { store, choose } = board;
  const { tool, mirrored, underlay, grid } = board.doing;
  const now = useRef(board);
  useEffect(() => {
    now.current = board;
  }, [board]);
  return useCallback(() => {
    const things = () => {
      const { drawn } = now.current;
      return store.getState().picked.filter((id) => drawn.points[id] || drawn.curves.some((c) => c.id === id));
    };
    const none = store.getState().picked.length ? undefined : "pick something on the sheet first";
    const toggle = (what: "mirrored" | "underlay" | "grid") => () =>
      store.setState((state) => ({ [what]: !state[what] }));
    return [
      ...designActions(floor, head, () => void navigate("/")),
      { name: "Back to the floor", keys: "g f", alike: "close done body", run: back },
      { name: "Pull and pick", keys: PULL, alike: "select move", on: tool === null, run: () => choose(null) },
      ...TOOLS.map(({ id, title, group }) => ({
        name: `${group === "draw" ? "Draw" : "Change"}: ${title}`,
        title,
        on: tool === id,
        ...(KEYS[id] ? { keys: KEYS[id] } : {}),
        alike: ALIKE[id] ?? "",
        run: () => choose(id),
      })),
      {
        name: "Take away what is picked",
        keys: "Delete",
        alike: "delete remove erase",
        why: none,
        run: () => {
          const picked = things();
          store.setState({ picked: [] });
          if (picked.length) void now.current.act([{ act: "drop", things: picked }]);
        },
      },
      {
        name: "Fit the drawing into the sheet",
        title: "Fit",
        keys: "0",
        alike: "zoom all view",
        run: () => store.setState(({ fits }) => ({ fits: fits + 1 })),
      },
      { name: "From the other side", keys: "v o", alike: "mirror behind flip", on: mirrored, run: toggle("mirrored") },
      { name: "Underlay", keys: "v u", alike: "ghosts neighbours bodies", on: underlay, run: toggle("underlay") },
      { name: "Grid", keys: "v g", alike: "snap", on: grid, run: toggle("grid") },
    ];
  }, [floor, head, navigate, store, choose, back, tool, mirrored, underlay, grid]);
}
