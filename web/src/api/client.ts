import createClient from "openapi-fetch";
import { Refused } from "./problems";
import type { paths } from "./schema";
import type { Card, Design, Edit, FileFormat, Problem, StepKind } from "./types";

const http = createClient<paths>({ baseUrl: "" });

/** The answer as the schema gives it, or Refused. (The client's own reading of it loses the length of tuples.) */
async function orRefused<T>(call: Promise<{ data?: unknown; error?: Problem; response: Response }>): Promise<T> {
  const { data, error } = await call;
  if (error !== undefined) throw new Refused(error);
  return data as T;
}

const at = (design: string) => ({ params: { path: { design } } });

export const api = {
  rack: (): Promise<Card[]> => orRefused(http.GET("/api/designs")),
  kinds: (): Promise<StepKind[]> => orRefused(http.GET("/api/kinds")),
  create: (name: string): Promise<Design> => orRefused(http.POST("/api/designs", { body: { name } })),
  loadDemo: (): Promise<{ added: number }> => orRefused(http.POST("/api/designs/demo")),
  openFile: (file: Blob): Promise<Design> =>
    orRefused(http.POST("/api/designs/file", { body: file as never, bodySerializer: (body) => body })),
  read: (design: string): Promise<Design> => orRefused(http.GET("/api/designs/{design}", at(design))),
  remove: (design: string): Promise<void> => orRefused(http.DELETE("/api/designs/{design}", at(design))),
  edit: (design: string, base_revision: number, edits: Edit[]): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/edits", { ...at(design), body: { base_revision, edits } })),
  undo: (design: string, base_revision: number): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/undo", { ...at(design), body: { base_revision } })),
  redo: (design: string, base_revision: number): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/redo", { ...at(design), body: { base_revision } })),
  stop: (design: string): Promise<void> => orRefused(http.POST("/api/designs/{design}/stop", at(design))),
  document: (design: string) => download(`/api/designs/${design}/document`),
  export: (design: string, format: FileFormat, tolerance: number) =>
    download(`/api/designs/${design}/export?format=${format}&tolerance=${tolerance}`),
  mesh: async (key: string): Promise<ArrayBuffer> => (await answered(`/api/meshes/${key}`)).arrayBuffer(),
};

export interface Download {
  name: string;
  data: Blob;
}

async function answered(address: string): Promise<Response> {
  const response = await fetch(address);
  if (!response.ok) throw new Refused((await response.json()) as Problem);
  return response;
}

async function download(address: string): Promise<Download> {
  const response = await answered(address);
  const name = /filename="([^"]+)"/.exec(response.headers.get("content-disposition") ?? "")?.[1] ?? "design";
  return { name, data: await response.blob() };
}
