import { queryOptions } from "@tanstack/react-query";
import { api } from "./client";

export const queries = {
  rack: () => queryOptions({ queryKey: ["rack"], queryFn: api.rack }),
  kinds: () => queryOptions({ queryKey: ["kinds"], queryFn: api.kinds, staleTime: Infinity }),
  head: (design: string) =>
    queryOptions({ queryKey: ["head", design], queryFn: () => api.read(design), staleTime: Infinity }),
};
