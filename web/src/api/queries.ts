import { queryOptions } from "@tanstack/react-query";
import { api } from "./client";
import type { Finding, SolidState, StepStatus } from "./types";

/** How a design stands, gathered from the live channel. steps shows previews too while a drag goes on. */
export interface Built {
  steps: Record<string, StepStatus>;
  solids: Record<string, SolidState>;
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

export const queries = {
  rack: () => queryOptions({ queryKey: ["rack"], queryFn: api.rack }),
  kinds: () => queryOptions({ queryKey: ["kinds"], queryFn: api.kinds, staleTime: Infinity }),
  head: (design: string) =>
    queryOptions({ queryKey: ["head", design], queryFn: () => api.read(design), staleTime: Infinity }),
  built: (design: string) =>
    queryOptions<Built>({
      queryKey: ["built", design],
      queryFn: () => NOTHING_BUILT,
      initialData: NOTHING_BUILT,
      staleTime: Infinity,
    }),
};
