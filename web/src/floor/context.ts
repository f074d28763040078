import { createContext, useContext } from "react";
import { useStore } from "zustand";
import type { LiveChannel } from "../api/live";
import type { Built } from "../api/queries";
import type { Design, Edit, Finding, Fix, Step } from "../api/types";
import type { Place, PlaceStore } from "../model/place";

/** What every part of the floor can see and do. */
export interface FloorContext {
  design: Design;
  built: Built;
  place: PlaceStore;
  live: LiveChannel;
  /** Keep a change. Resolves when it is on disk, null when it was refused. */
  change: (edits: Edit[]) => Promise<Design | null>;
  undo: () => void;
  redo: () => void;
  saving: boolean;
}

export const Floor = createContext<FloorContext | null>(null);

export function useFloor(): FloorContext {
  const found = useContext(Floor);
  if (!found) throw new Error("only on the floor");
  return found;
}

export function usePlace<T>(pick: (place: Place) => T): T {
  return useStore(useFloor().place, pick);
}

export function useStep(id: string | null): Step | null {
  const { design } = useFloor();
  return design.document.steps.find((step) => step.id === id) ?? null;
}

/** Findings of a step; those of the whole design where no step is given. */
export function useFindings(step: string | null): Finding[] {
  const { built } = useFloor();
  return step === null ? built.findings : (built.steps[step]?.findings ?? []);
}

export type { Fix };
