import { Box3, BufferAttribute, BufferGeometry, Vector3 } from "three";

/** Share of the size of a mesh that no side of its triangles is longer than. */
const LONGEST = 1 / 56;
const ROUNDS = 9;
const KNOWN = new WeakMap<BufferGeometry, BufferGeometry>();

/** The same mesh with more triangles: what changes within a face is told between its corners too. Sides that two triangles share are parted once. */
export function refined(geometry: BufferGeometry): BufferGeometry {
  const known = KNOWN.get(geometry);
  if (known) return known;
  const position = [...(geometry.getAttribute("position").array as Float32Array)];
  const normal = [...(geometry.getAttribute("normal").array as Float32Array)];
  const size = new Box3().setFromArray(position).getSize(new Vector3()).length();
  let index = [...(geometry.getIndex()?.array ?? [])];
  // what else is known of a vertex, its face above all, a new one has from the first of the two that it lies between
  const from = Array.from({ length: position.length / 3 }, (_, i) => i);
  for (let round = 0; round < ROUNDS; round++) {
    const middles = new Map<string, number>();
    const middle = (a: number, b: number): number => {
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      const there = middles.get(key);
      if (there !== undefined) return there;
      const made = from.length;
      middles.set(key, made);
      from.push(from[a] ?? a);
      const turned = [0, 1, 2].map((i) => (normal[3 * a + i] ?? 0) + (normal[3 * b + i] ?? 0));
      const long = Math.hypot(...turned) || 1;
      for (let i = 0; i < 3; i++) {
        position.push(((position[3 * a + i] ?? 0) + (position[3 * b + i] ?? 0)) / 2);
        normal.push((turned[i] ?? 0) / long);
      }
      return made;
    };
    const long = (a: number, b: number): boolean =>
      Math.hypot(...[0, 1, 2].map((i) => (position[3 * a + i] ?? 0) - (position[3 * b + i] ?? 0))) > LONGEST * size;
    const next: number[] = [];
    for (let t = 0; t + 2 < index.length; t += 3) {
      const [a, b, c] = [index[t] ?? 0, index[t + 1] ?? 0, index[t + 2] ?? 0];
      next.push(
        ...parted(
          a,
          b,
          c,
          long(a, b) ? middle(a, b) : -1,
          long(b, c) ? middle(b, c) : -1,
          long(c, a) ? middle(c, a) : -1,
        ),
      );
    }
    index = next;
    if (!middles.size) break;
  }
  const made = new BufferGeometry();
  made.setIndex(index);
  made.setAttribute("position", new BufferAttribute(new Float32Array(position), 3));
  made.setAttribute("normal", new BufferAttribute(new Float32Array(normal), 3));
  const face = geometry.getAttribute("_face");
  if (face)
    made.setAttribute(
      "_face",
      new BufferAttribute(
        Float32Array.from(from, (i) => face.getX(i)),
        1,
      ),
    );
  KNOWN.set(geometry, made);
  return made;
}

/** A triangle with middles on some of its sides, -1 where there is none, as triangles. */
function parted(a: number, b: number, c: number, ab: number, bc: number, ca: number): number[] {
  if (ab < 0 && bc < 0 && ca < 0) return [a, b, c];
  if (ab >= 0 && bc >= 0 && ca >= 0) return [a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca];
  // turned so that the first side is parted, and the last one is not
  if (ab < 0 || ca >= 0) return parted(b, c, a, bc, ca, ab);
  return bc < 0 ? [a, ab, c, ab, b, c] : [ab, b, bc, a, ab, bc, a, bc, c];
}
