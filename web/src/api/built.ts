import type { Finding, SolidState, StepStatus } from "./types";

/** How a design stands, gathered from the live channel. steps shows previews too while a drag goes on. */
export interface Built {
  steps: Readonly<Record<string, StepStatus>>;
  solids: Readonly<Record<string, SolidState>>;
  findings: Finding[];
  working: string | null;
  complete: boolean;
  connected: boolean;
}

export const NOTHING_BUILT: Built = {
  steps: {},
  solids: {},
  findings: [],
  working: null,
  complete: false,
  connected: false,
};
