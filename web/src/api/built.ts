import type { CombOut, DrawnLines, Finding, SolidState, StepStatus } from "./types";

/** How a design stands, gathered from the live channel. steps shows previews too while a drag goes on. */
export interface Built {
  steps: Readonly<Record<string, StepStatus>>;
  /** Meshes of bodies whose numbers are still to come, by step. */
  shapes: Readonly<Record<string, string>>;
  /** Where the lines of drawings are whose areas are still to come, by step. */
  lines: Readonly<Record<string, DrawnLines>>;
  /** How much the lines of a body bend that is being pulled about, by step. */
  combs: Readonly<Record<string, CombOut[]>>;
  solids: Readonly<Record<string, SolidState>>;
  findings: Finding[];
  /** The steps whose bodies are there now; null while nothing is known. */
  standing: readonly string[] | null;
  /** The step that takes long, and the moment (of performance.now) at which it began. */
  working: { step: string; since: number } | null;
  complete: boolean;
  /** The revision that all of it belongs to, with a tilde behind it while a preview is shown. */
  shown: string;
  connected: boolean;
}

export const NOTHING_BUILT: Built = {
  steps: {},
  shapes: {},
  lines: {},
  combs: {},
  solids: {},
  findings: [],
  standing: null,
  working: null,
  complete: false,
  shown: "",
  connected: false,
};
