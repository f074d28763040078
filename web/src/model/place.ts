import { createStore } from "zustand/vanilla";
import type { Into, Makes } from "../steps/kind";
import type { MapMode, MapScale } from "../scene/maps";
import type { Line } from "./lines";
import type { Pull } from "./pulls";

export type LaneName = "twist" | "scale" | "area" | "curvature" | "rails";
export type SceneMode = "shade" | "edges" | "wire" | "stripes" | "glass" | MapMode;

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
  /** Whether the Run is folded away; null: as the screen has room. */
  folded: boolean | null;
  /** Number of the flow line whose curvature is read. */
  flow: number;
  /** The place along a body that is pointed at, mm. */
  pointed: { body: string; at: number } | null;
  /** What the colours of the skin tell where it is pointed at, from the middle of their scale on. */
  told: number | null;
  /** What the colours of the skin tell; null while they tell nothing. */
  scale: MapScale | null;
  /** The way in which a part leaves its mould. */
  pull: Pull;
  /** The dialog that is open. */
  open: "hand over" | null;
  /** An older revision laid over the present one. */
  compared: { revision: number; name: string } | null;
  /** How what is being changed looked before, as lines in mm. */
  before: readonly Line[];
  /** The step that is being dragged to another one that may have use for it. */
  carried: string | null;
  /** The parameter that waits for something to be picked in the scene. */
  picking: Picking | null;
  /** Faces and edges that are pointed at, by their names. */
  litNames: readonly string[];
  /** The step that is to be removed, where others build on it: what becomes of those is asked. */
  asking: string | null;
  /** A step that was made just now: its first number waits for the hand. */
  fresh: string | null;
  /** Where new sections go, where the designer chose it. */
  into: Into | null;
  /** What becomes of a new body. */
  makes: Makes;
  /** Bodies that are put out of sight. */
  hidden: readonly string[];
  /** The plane at which bodies are cut open; what lies beyond it along the axis is taken away. */
  cut: Cut | null;
  /** Whether it is told how the faces of the body meet. */
  meeting: boolean;
  /** Whether teeth on its lines show how much they bend. */
  combs: boolean;
  /** Camera position and target, mm. */
  view: { position: number[]; target: number[] } | null;
}

/** axis: unit vector. at: mm along it. */
export interface Cut {
  axis: readonly [number, number, number];
  at: number;
}

/** What is to be picked, and the parameter where the answer goes. */
export interface Picking {
  step: string;
  path: (string | number)[];
  what: "body" | "face" | "edge" | "section" | "station" | "rail" | "part" | "spot";
  /** Of parts: whole bodies as well, and meshes that are there to be looked at. */
  whole?: boolean;
  /** Several, each taken in or out by a click. */
  many: boolean;
  /** So many, at most: picked, nothing more is asked for. */
  most?: number;
  /** What of the same kind is picked after it, and how that is asked for. */
  then?: { path: (string | number)[]; words: string };
}

const EMPTY: Place = {
  selected: null,
  board: null,
  hovered: null,
  lit: [],
  mode: "edges",
  lanes: ["twist", "area"],
  folded: null,
  flow: 0,
  pointed: null,
  told: null,
  scale: null,
  pull: "z",
  compared: null,
  before: [],
  open: null,
  carried: null,
  picking: null,
  litNames: [],
  asking: null,
  fresh: null,
  into: null,
  makes: { type: "new" },
  hidden: [],
  cut: null,
  meeting: false,
  combs: false,
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
  store.subscribe(({ selected, board, mode, lanes, folded, flow, hidden, view }) => {
    sessionStorage.setItem(key(design), JSON.stringify({ selected, board, mode, lanes, folded, flow, hidden, view }));
  });
  return store;
}

/** Put a body out of sight, or back. */
export function toggleHidden(place: PlaceStore, body: string): void {
  place.setState(({ hidden }) => ({
    hidden: hidden.includes(body) ? hidden.filter((id) => id !== body) : [...hidden, body],
  }));
}

export type PlaceStore = ReturnType<typeof createPlace>;
