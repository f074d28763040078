import { BufferAttribute } from "three";

/** Triangles or lines: what is told of each vertex, three or two vertices for each, and the names that numbers of vertices stand for. */
export interface Primitive {
  attributes: Record<string, BufferAttribute>;
  index: BufferAttribute;
  names: string[];
}

interface Accessor {
  bufferView: number;
  componentType: number;
  count: number;
  type: string;
  normalized?: boolean;
}
interface Header {
  accessors: Accessor[];
  bufferViews: { byteOffset?: number }[];
  meshes: {
    extras?: { sheet?: boolean };
    primitives: {
      mode?: number;
      attributes: Record<string, number>;
      indices: number;
      extras?: Record<string, string[]>;
    }[];
  }[];
}

const LINES = 1;
const ARRAYS = { 5123: Uint16Array, 5125: Uint32Array, 5126: Float32Array } as const;
const SIZES: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3 };

/**
 * The one mesh of a file of the format that bodies travel in (binary glTF 2.0), as its arrays lie in it: nothing is copied. A reader of all that the
 * format can hold takes longer for this than the body takes on its way here, and a drag has some twenty of them each second.
 */
export function readMesh(file: ArrayBuffer): {
  triangles: Primitive | null;
  lines: Primitive | null;
  sheet: boolean;
} {
  const told = new DataView(file);
  const size = told.getUint32(12, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(file, 20, size))) as Header;
  const start = 20 + size + 8;
  const array = (number: number): BufferAttribute => {
    const accessor = header.accessors[number];
    const kind = accessor && ARRAYS[accessor.componentType as keyof typeof ARRAYS];
    const each = accessor && SIZES[accessor.type];
    if (!accessor || !kind || !each) throw new Error("a mesh that can't be read");
    const from = start + (header.bufferViews[accessor.bufferView]?.byteOffset ?? 0);
    return new BufferAttribute(new kind(file, from, accessor.count * each), each, accessor.normalized ?? false);
  };
  const found = { triangles: null as Primitive | null, lines: null as Primitive | null };
  for (const { mode, attributes, indices, extras } of header.meshes[0]?.primitives ?? [])
    found[mode === LINES ? "lines" : "triangles"] = {
      attributes: Object.fromEntries(
        Object.entries(attributes).map(([name, number]) => [name.toLowerCase(), array(number)]),
      ),
      index: array(indices),
      names: Object.values(extras ?? {})[0] ?? [],
    };
  return { ...found, sheet: header.meshes[0]?.extras?.sheet ?? false };
}
