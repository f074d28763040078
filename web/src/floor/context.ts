import { createContext, useContext, useMemo } from "react";
import { useStore } from "zustand";
import type { Built } from "../api/built";
import type { LiveChannel } from "../api/live";
import type { Design, DesignDocument, Edit, Finding, Step, StepStatus } from "../api/types";
import type { DesignOutline } from "../model/outline";
import type { Place, PlaceStore } from "../model/place";
import type { KeptViewport } from "../scene/keptViewport";

/** What every part of the floor can do. The same object for as long as the design is open. */
export interface FloorContext {
  id: string;
  place: PlaceStore;
  live: LiveChannel;
  scene: KeptViewport;
  /** Keep a change. Resolves when it is on disk, null when it was refused. A change that depends on how things are is made when its turn comes. */
  change: (edits: Edit[] | ((now: DesignDocument) => Edit[])) => Promise<Design | null>;
  /** Ask the server for a change that it works out itself. */
  cut: (ask: (base: number, design: string) => Promise<Design>) => Promise<Design | null>;
  /** The design once every change that is on its way is kept; as it is kept so far while the server is away, or has nothing. */
  kept: () => Promise<Design | undefined>;
  undo: () => void;
  redo: () => void;
}

/** The design as it is kept, and the change that is on its way to be. */
export interface HeadContext {
  design: Design;
  /** Which way the last change goes that is not kept yet: on, or back in the history. */
  pending: "on" | "back" | null;
  /** The server does not answer, and a change waits to be kept. */
  away: boolean;
}

export const Floor = createContext<FloorContext | null>(null);
export const Head = createContext<HeadContext | null>(null);
export const Outline = createContext<DesignOutline | null>(null);

function inside<T>(found: T | null): T {
  if (!found) throw new Error("only on the floor");
  return found;
}

export const useFloor = (): FloorContext => inside(useContext(Floor));
export const useHead = (): HeadContext => inside(useContext(Head));
export const useDocument = (): DesignDocument => useHead().design.document;
export const useOutline = (): DesignOutline => inside(useContext(Outline));

export function usePlace<T>(pick: (place: Place) => T): T {
  return useStore(useFloor().place, pick);
}

/** A part of how the design stands; only a change of that part draws anew. */
export function useBuilt<T>(pick: (built: Built) => T): T {
  return useStore(useFloor().live.built, pick);
}

export function useStatus(step: string | undefined): StepStatus | undefined {
  return useBuilt((built) => (step === undefined ? undefined : built.steps[step]));
}

export function useStep(id: string | null): Step | null {
  return useDocument().steps.find((step) => step.id === id) ?? null;
}

const NONE: Finding[] = [];

/** Findings of a step; those of the whole design where no step is given. */
export function useFindings(step: string | null): Finding[] {
  const own = useBuilt((built) => (step === null ? built.findings : (built.steps[step]?.findings ?? NONE)));
  const skin = useBuilt((built) => (step === null ? NONE : skinFindings(built, step)));
  return useMemo(() => (skin.length ? [...own, ...skin] : own), [own, skin]);
}

/** What other steps find wrong with this one: a loft about one of its sections, say. */
export function useBlame(step: string): Finding[] {
  const steps = useBuilt((built) => built.steps);
  return useMemo(
    () =>
      Object.values(steps).flatMap(({ id, findings }) =>
        id === step ? [] : findings.filter((finding) => finding.where?.names?.includes(step)),
      ),
    [steps, step],
  );
}

const WORST_FIRST = ["error", "warning", "note"];

/** All that is said of a step, by itself and by others: what keeps it from being built first, what is merely good to know last. */
export function useSaid(step: string): Finding[] {
  const own = useFindings(step);
  const blame = useBlame(step);
  return useMemo(() => {
    const rank = ({ severity }: Finding) => WORST_FIRST.indexOf(severity);
    return [...own, ...blame].sort((a, b) => rank(a) - rank(b));
  }, [own, blame]);
}

/** What was found wrong with the skin of the body that stands there now, when it was looked at closely. */
export function skinFindings({ solids, steps }: Pick<Built, "solids" | "steps">, step: string): Finding[] {
  const solid = solids[step];
  return solid && solid.key === steps[step]?.key ? (solid.findings ?? NONE) : NONE;
}
