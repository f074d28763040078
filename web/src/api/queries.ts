import { keepPreviousData, queryOptions, replaceEqualDeep } from "@tanstack/react-query";
import { api } from "./client";
import type { AskedMeasure, Design } from "./types";

const later = (known: Design | undefined, told: Design): Design =>
  known && known.id === told.id && known.changed > told.changed ? known : replaceEqualDeep(known, told);

export const queries = {
  rack: () =>
    queryOptions({
      queryKey: ["rack"],
      queryFn: api.rack,
      // bodies that are being built come by themselves
      refetchInterval: ({ state }) => (state.data?.some((card) => card.building) ? 400 : false),
    }),
  kinds: () => queryOptions({ queryKey: ["kinds"], queryFn: api.kinds, staleTime: Infinity }),
  materials: () => queryOptions({ queryKey: ["materials"], queryFn: api.materials, staleTime: Infinity }),
  holds: () => queryOptions({ queryKey: ["holds"], queryFn: api.holds, staleTime: Infinity }),
  /** The drawing that a shape of a few numbers stands for. A revision never changes, so neither does this. */
  asDrawn: (design: string, revision: number, step: string) =>
    queryOptions({
      queryKey: ["as-drawn", design, revision, step],
      queryFn: () => api.asDrawn(design, step),
      staleTime: Infinity,
      // what else is changed meanwhile mostly leaves it as it was
      placeholderData: keepPreviousData,
    }),
  /** What measures of picked things come to, without holding them. */
  told: (design: string, revision: number, step: string, asked: readonly AskedMeasure[], curves: readonly string[]) =>
    queryOptions({
      queryKey: ["told", design, revision, step, asked, curves],
      queryFn: () => api.told(design, step, asked, curves),
      staleTime: Infinity,
    }),
  /** Areas in which a plane cuts the bodies. */
  section: (design: string, revision: number, axis: readonly [number, number, number], at: number) =>
    queryOptions({
      queryKey: ["section", design, revision, axis, at],
      queryFn: () => api.section(design, axis, at),
      staleTime: Infinity,
    }),
  /** How the faces of a body meet. A revision never changes, so neither does this. */
  continuity: (design: string, revision: number, step: string) =>
    queryOptions({
      queryKey: ["continuity", design, revision, step],
      queryFn: () => api.continuity(design, step),
      staleTime: Infinity,
      placeholderData: keepPreviousData,
    }),
  /** How much the sections and flow lines of a body bend. A revision never changes, so neither does this. */
  combs: (design: string, revision: number, step: string) =>
    queryOptions({
      queryKey: ["combs", design, revision, step],
      queryFn: () => api.combs(design, step),
      staleTime: Infinity,
      placeholderData: keepPreviousData,
      retry: false,
    }),
  /** What a typed number comes to. A revision never changes, so neither does this. */
  worth: (design: string, revision: number, text: string, kind: "length" | "angle" | "count") =>
    queryOptions({
      queryKey: ["worth", design, revision, text, kind],
      queryFn: () => api.worth(design, text, kind),
      staleTime: Infinity,
      retry: false,
    }),
  head: (design: string) =>
    queryOptions({
      queryKey: ["head", design],
      queryFn: () => api.read(design),
      staleTime: Infinity,
      // the answer to a change of one's own may come after the word of a later one by somebody else
      structuralSharing: (known, told) => later(known as Design | undefined, told as Design),
    }),
};
