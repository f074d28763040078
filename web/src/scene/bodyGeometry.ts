import { BufferGeometry } from "three";
import { api } from "../api/client";
import { readMesh, type Primitive } from "./glb";

/** A named run of line segments: flat pairs of points, mm. */
export interface NamedLine {
  name: string;
  segments: Float32Array;
}

export interface BodyGeometry {
  surface: BufferGeometry;
  lines: NamedLine[];
  /** Names of the faces, by the number that each vertex carries. */
  faces: string[];
  /** It is open: both its sides are outside. */
  sheet: boolean;
}

/** Before the name of an edge on which a section lies: it can be picked, the ring is drawn for both. */
export const UNDER = "under:";
/** Before the name of a section that lies on a body. */
export const RING = "ring:";

/** What an edge is called by the steps. */
export const nameOf = ({ name }: NamedLine): string => name.replace(UNDER, "");

const MOST_KEPT = 24;
const kept = new Map<string, Promise<BodyGeometry>>();

/** The geometry of a mesh key, in mm with z up. What a key stands for never changes, so it is fetched once, or not at all where `data` came by itself. */
export function bodyGeometry(key: string, data?: ArrayBuffer): Promise<BodyGeometry> {
  const known = kept.get(key);
  if (known) {
    kept.delete(key);
    kept.set(key, known);
    return known;
  }
  const fetched = data ? Promise.resolve(data).then(read) : api.mesh(key).then(read);
  kept.set(key, fetched);
  fetched.catch(() => kept.delete(key));
  if (kept.size > MOST_KEPT) {
    const [oldest, geometry] = kept.entries().next().value as [string, Promise<BodyGeometry>];
    kept.delete(oldest);
    // buffers on the graphics card go with it; a body still on screen uploads them again
    void geometry.then((body) => body.surface.dispose()).catch(() => undefined);
  }
  return fetched;
}

function read(buffer: ArrayBuffer): BodyGeometry {
  const { triangles, lines, sheet } = readMesh(buffer);
  if (!triangles) throw new Error("a mesh without triangles");
  const surface = new BufferGeometry();
  for (const [name, attribute] of Object.entries(triangles.attributes)) surface.setAttribute(name, attribute);
  surface.setIndex(triangles.index);
  return { surface, lines: lines ? split(lines) : [], faces: triangles.names, sheet };
}

function split({ attributes, index, names }: Primitive): NamedLine[] {
  const { position, _line: owner } = attributes;
  if (!position || !owner) return [];
  const points: number[][] = names.map(() => []);
  for (let i = 0; i < index.count; i++) {
    const vertex = index.getX(i);
    points[owner.getX(vertex)]?.push(position.getX(vertex), position.getY(vertex), position.getZ(vertex));
  }
  return names.map((name, i) => ({ name, segments: new Float32Array(points[i] ?? []) }));
}
