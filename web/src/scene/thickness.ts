import { Box3, DoubleSide, Ray, Vector3, type BufferGeometry } from "three";
import { MeshBVH } from "three-mesh-bvh";

/** Share of the size of a body by which a ray starts inside of the skin, so that it does not meet that. */
const INSIDE = 1e-5;
const KNOWN = new WeakMap<BufferGeometry, Float32Array>();

/** How thick a body is straight in from each vertex of its mesh, mm; not a number where nothing lies behind, as behind a sheet. */
export function withThickness(geometry: BufferGeometry): Float32Array {
  const known = KNOWN.get(geometry);
  if (known) return known;
  const position = geometry.getAttribute("position").array as Float32Array;
  const normal = geometry.getAttribute("normal").array as Float32Array;
  // the order of the triangles is that of the mesh: faces are told by it
  const tree = new MeshBVH(geometry, { indirect: true });
  const size = new Box3().setFromArray(position).getSize(new Vector3()).length();
  const found = new Float32Array(position.length / 3);
  const ray = new Ray();
  for (let i = 0; i < found.length; i++) {
    ray.direction.fromArray(normal, 3 * i).negate();
    ray.origin.fromArray(position, 3 * i).addScaledVector(ray.direction, INSIDE * size);
    const hit = tree.raycastFirst(ray, DoubleSide);
    found[i] = hit ? hit.distance + INSIDE * size : NaN;
  }
  KNOWN.set(geometry, found);
  return found;
}
