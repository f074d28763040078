import { createStore } from "zustand/vanilla";

export type SceneMode = "shade" | "edges" | "wire";

/** Where the designer is in a design: kept over a reload. */
export interface Place {
  selected: string | null;
  hovered: string | null;
  /** Points in mm that a finding points at. */
  lit: readonly (readonly [number, number, number])[];
  mode: SceneMode;
  /** Camera position and target, mm. */
  view: { position: number[]; target: number[] } | null;
}

const EMPTY: Place = { selected: null, hovered: null, lit: [], mode: "edges", view: null };

const key = (design: string) => `wander/place/${design}`;

function remembered(design: string): Partial<Place> {
  try {
    return JSON.parse(sessionStorage.getItem(key(design)) ?? "{}") as Partial<Place>;
  } catch {
    return {};
  }
}

export function createPlace(design: string) {
  const { selected, mode, view } = { ...EMPTY, ...remembered(design) };
  const store = createStore<Place>(() => ({ ...EMPTY, selected, mode, view }));
  store.subscribe((place) => {
    sessionStorage.setItem(
      key(design),
      JSON.stringify({ selected: place.selected, mode: place.mode, view: place.view }),
    );
  });
  return store;
}

export type PlaceStore = ReturnType<typeof createPlace>;
