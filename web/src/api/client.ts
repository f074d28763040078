import createClient from "openapi-fetch";
import { heard, Refused } from "./problems";
import type { paths } from "./schema";
import type {
  CombOut,
  Fair,
  SeamOut,
  AsDrawn,
  AskedMeasure,
  BodyAt,
  Brought,
  Card,
  Design,
  Edit,
  FileFormat,
  HoldKind,
  Looked,
  Material,
  Problem,
  Profile,
  StepKind,
  TellOut,
  Version,
} from "./types";

const http = createClient<paths>({ baseUrl: "", fetch: heard });

/** The answer as the schema gives it, or Refused. (The client's own reading of it loses the length of tuples.) */
async function orRefused<T>(call: Promise<{ data?: unknown; error?: Problem; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (error !== undefined) throw new Refused(isProblem(error) ? error : wordless(response));
  return data as T;
}

function isProblem(found: unknown): found is Problem {
  return typeof found === "object" && found !== null && "title" in found && "detail" in found;
}

/** What is said of an answer that says nothing itself. */
function wordless(response: Response): Problem {
  return {
    type: "about:blank",
    title: "The server could not do this",
    detail: `It answered with ${response.status} and said no more. Nothing was changed.`,
    status: response.status,
    code: "unforeseen",
  };
}

const here = (design: string) => ({ params: { path: { design } } });

export const api = {
  rack: (): Promise<Card[]> => orRefused(http.GET("/api/designs")),
  kinds: (): Promise<StepKind[]> => orRefused(http.GET("/api/kinds")),
  holds: (): Promise<HoldKind[]> => orRefused(http.GET("/api/holds")),
  create: (name: string): Promise<Design> => orRefused(http.POST("/api/designs", { body: { name } })),
  loadDemo: (): Promise<{ added: number }> => orRefused(http.POST("/api/designs/demo")),
  openFile: (file: Blob): Promise<Design> =>
    orRefused(http.POST("/api/designs/file", { body: file as never, bodySerializer: (body) => body })),
  read: (design: string): Promise<Design> => orRefused(http.GET("/api/designs/{design}", here(design))),
  remove: (design: string): Promise<void> => orRefused(http.DELETE("/api/designs/{design}", here(design))),
  edit: (design: string, base_revision: number, edits: Edit[], mark: string): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/edits", { ...here(design), body: { base_revision, edits, mark } })),
  undo: (design: string, base_revision: number): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/undo", { ...here(design), body: { base_revision } })),
  redo: (design: string, base_revision: number): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/redo", { ...here(design), body: { base_revision } })),
  cut: (design: string, base_revision: number, step: string, at: number): Promise<Design> =>
    orRefused(http.POST("/api/designs/{design}/cuts", { ...here(design), body: { base_revision, step, at } })),
  versions: (design: string): Promise<Version[]> => orRefused(http.GET("/api/designs/{design}/versions", here(design))),
  nameVersion: (design: string, revision: number, name: string): Promise<Version> =>
    orRefused(http.POST("/api/designs/{design}/versions", { ...here(design), body: { revision, name } })),
  forgetVersion: (design: string, number: number): Promise<void> =>
    orRefused(http.DELETE("/api/designs/{design}/versions/{number}", { params: { path: { design, number } } })),
  openRevision: (design: string, base_revision: number, revision: number): Promise<Design> =>
    orRefused(
      http.POST("/api/designs/{design}/revisions/{revision}/open", {
        params: { path: { design, revision } },
        body: { base_revision },
      }),
    ),
  bodiesAt: (design: string, revision: number): Promise<BodyAt[]> =>
    orRefused(
      http.GET("/api/designs/{design}/revisions/{revision}/bodies", { params: { path: { design, revision } } }),
    ),
  release: (design: string, base_revision: number, step: string, things: string[]): Promise<Design> =>
    orRefused(
      http.POST("/api/designs/{design}/drawings/{step}/release", {
        params: { path: { design, step } },
        body: { base_revision, things },
      }),
    ),
  addPicture: (design: string, base_revision: number, station: string, name: string, file: Blob): Promise<Design> =>
    orRefused(
      http.POST("/api/designs/{design}/pictures", {
        params: { path: { design }, query: { base_revision, station, name } },
        body: file as never,
        bodySerializer: (body) => body,
      }),
    ),
  addPart: (
    design: string,
    base_revision: number,
    file_name: string,
    use: "work" | "reference",
    file: Blob,
    instead?: string,
  ): Promise<Design> =>
    orRefused(
      http.POST("/api/designs/{design}/parts", {
        params: { path: { design }, query: { base_revision, file_name, use, ...(instead ? { instead } : {}) } },
        body: file as never,
        bodySerializer: (body) => body,
      }),
    ),
  asDrawn: (design: string, step: string): Promise<AsDrawn> =>
    orRefused(http.GET("/api/designs/{design}/drawings/{step}/as-drawn", { params: { path: { design, step } } })),
  worth: (
    design: string,
    text: string,
    kind: "length" | "angle" | "count",
  ): Promise<{ value: number | null; why: string }> =>
    orRefused(http.GET("/api/designs/{design}/worth", { params: { path: { design }, query: { text, kind } } })),
  told: (design: string, step: string, asked: readonly AskedMeasure[], curves: readonly string[]): Promise<TellOut> =>
    orRefused(
      http.POST("/api/designs/{design}/drawings/{step}/told", {
        params: { path: { design, step } },
        body: { asked: [...asked], curves: [...curves] },
      }),
    ),
  section: (design: string, [x, y, z]: Triple, at: number): Promise<{ step: string; area: number }[]> =>
    orRefused(http.GET("/api/designs/{design}/section", { params: { path: { design }, query: { x, y, z, at } } })),
  continuity: (design: string, step: string): Promise<SeamOut[]> =>
    orRefused(http.GET("/api/designs/{design}/bodies/{step}/continuity", { params: { path: { design, step } } })),
  combs: (design: string, step: string): Promise<CombOut[]> =>
    orRefused(http.GET("/api/designs/{design}/bodies/{step}/combs", { params: { path: { design, step } } })),
  fair: (design: string, step: string, within: number, things: readonly string[]): Promise<Fair> =>
    orRefused(
      http.POST("/api/designs/{design}/steps/{step}/fair", {
        params: { path: { design, step } },
        body: { within, things: [...things] },
      }),
    ),
  stop: (design: string): Promise<void> => orRefused(http.POST("/api/designs/{design}/stop", here(design))),
  again: (design: string): Promise<void> => orRefused(http.POST("/api/designs/{design}/again", here(design))),
  materials: (): Promise<Material[]> => orRefused(http.GET("/api/materials")),
  profiles: (): Promise<Profile[]> => orRefused(http.GET("/api/profiles")),
  keepProfile: (design: string, step: string, name: string): Promise<void> =>
    orRefused(http.POST("/api/profiles", { body: { design, step, name } })),
  forgetProfile: (name: string): Promise<void> =>
    orRefused(http.DELETE("/api/profiles/{name}", { params: { path: { name } } })),
  beginWith: (
    design: string,
    base_revision: number,
    step: string,
    profile: { name: string; own: boolean; values: Record<string, number> },
  ): Promise<Design> =>
    orRefused(
      http.POST("/api/designs/{design}/drawings/{step}/profile", {
        params: { path: { design, step } },
        body: { base_revision, ...profile },
      }),
    ),
  /** What a file would bring in; nothing is changed. */
  look: (design: string, file: File, { layers, ...placing }: Placing): Promise<Looked> =>
    orRefused(
      http.POST("/api/designs/{design}/curves", {
        params: {
          path: { design },
          query: { file_name: file.name, ...placing, ...(layers ? { layers: [...layers] } : {}) },
        },
        body: file as never,
        bodySerializer: (body) => body,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
  bring: (
    design: string,
    base_revision: number,
    step: string,
    file: File,
    { layers, ...placing }: Placing,
    instead: boolean,
  ): Promise<Brought> =>
    orRefused(
      http.POST("/api/designs/{design}/drawings/{step}/curves", {
        params: {
          path: { design, step },
          query: {
            base_revision,
            file_name: file.name,
            instead,
            ...placing,
            ...(layers ? { layers: [...layers] } : {}),
          },
        },
        body: file as never,
        bodySerializer: (body) => body,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    ),
  drawing: (design: string, step: string, format: "dxf" | "svg") =>
    download(`/api/designs/${design}/drawings/${step}?format=${format}`),
  document: (design: string) => download(`/api/designs/${design}/document`),
  export: (design: string, format: FileFormat, { tolerance, around, along, loops }: Density) => {
    const asked = new URLSearchParams({ format, tolerance: String(tolerance) });
    if (around !== null) asked.set("around", String(around));
    if (along !== null) asked.set("along", String(along));
    for (const share of loops) asked.append("loops", String(share));
    return download(`/api/designs/${design}/export?${asked.toString()}`);
  },
  mesh: async (key: string): Promise<ArrayBuffer> => (await answered(`/api/meshes/${key}`)).arrayBuffer(),
};

/** Where and how large curves of a file come in: lengths in mm, turn in degrees. */
type Triple = readonly [number, number, number];

export interface Placing {
  scale: number;
  turn: number;
  x: number;
  y: number;
  tolerance: number;
  /** That a foil is to have, mm. */
  chord?: number;
  /** mm in one unit of a file that does not say. */
  unit?: number;
  /** Those that come in, by number; all without it. */
  layers?: readonly number[];
}

/** How fine a mesh is asked for: within a tolerance in mm, or in so many pieces round and along; loops: shares of the length with a line besides. */
export interface Density {
  tolerance: number;
  around: number | null;
  along: number | null;
  loops: readonly number[];
}

export interface Download {
  name: string;
  data: Blob;
}

async function answered(address: string): Promise<Response> {
  const response = await heard(address);
  if (!response.ok) {
    const problem: unknown = await response.json().catch(() => null);
    throw new Refused(isProblem(problem) ? problem : wordless(response));
  }
  return response;
}

async function download(address: string): Promise<Download> {
  const response = await answered(address);
  const name = /filename="([^"]+)"/.exec(response.headers.get("content-disposition") ?? "")?.[1] ?? "design";
  return { name, data: await response.blob() };
}
