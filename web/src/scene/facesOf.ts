import { BufferGeometry } from "three";
import type { BodyGeometry } from "./bodyGeometry";

/** The part of a surface that belongs to some of its faces, by their numbers; it shares the vertices. */
export function facesOf({ surface }: BodyGeometry, numbers: ReadonlySet<number>): BufferGeometry {
  const owner = surface.getAttribute("_face");
  const index = surface.getIndex();
  const found: number[] = [];
  for (let i = 0; index && i + 2 < index.count; i += 3)
    if (numbers.has(owner?.getX(index.getX(i)) ?? -1)) found.push(index.getX(i), index.getX(i + 1), index.getX(i + 2));
  const part = new BufferGeometry();
  part.setAttribute("position", surface.getAttribute("position"));
  part.setAttribute("normal", surface.getAttribute("normal"));
  part.setIndex(found);
  return part;
}
