import { createStore } from "zustand/vanilla";

export type LaneName = "twist" | "scale" | "area" | "curvature";
export type SceneMode = "shade" | "edges" | "wire";

/** Where the designer is in a design: kept over a reload. */
export interface Place {
  selected: string | null;
  /** The section that is on the board. */
  board: string | null;
  hovered: string | null;
  /** Points in mm that a finding points at. */
  lit: readonly (readonly [number, number, number])[];
  mode: SceneMode;
  /** Lanes that are open on the Run. */
  lanes: readonly LaneName[];
  /** Number of the flow line whose curvature is read. */
  flow: number;
  /** The place along a body that is pointed at, mm. */
  pointed: { body: string; at: number } | null;
  /** The dialog that is open. */
  open: "hand over" | "keys" | null;
  /** An older revision laid over the present one. */
  compared: { revision: number; name: string } | null;
  /** Camera position and target, mm. */
  view: { position: number[]; target: number[] } | null;
}

const EMPTY: Place = {
  selected: null,
  board: null,
  hovered: null,
  lit: [],
  mode: "edges",
  lanes: ["twist", "area"],
  flow: 0,
  pointed: null,
  compared: null,
  open: null,
  view: null,
};

const key = (design: string) => `wander/place/${design}`;

function remembered(design: string): Partial<Place> {
  try {
    return JSON.parse(sessionStorage.getItem(key(design)) ?? "{}") as Partial<Place>;
  } catch {
    return {};
  }
}

export function createPlace(design: string) {
  const store = createStore<Place>(() => ({ ...EMPTY, ...remembered(design) }));
  store.subscribe(({ selected, board, mode, lanes, flow, view }) => {
    sessionStorage.setItem(key(design), JSON.stringify({ selected, board, mode, lanes, flow, view }));
  });
  return store;
}

export type PlaceStore = ReturnType<typeof createPlace>;
