import { type Box3, MathUtils, Vector3, type PerspectiveCamera } from "three";

/** Directions from the body to the eye, by the number key that asks for them. */
export const VIEWS = {
  "1": { name: "Front", from: new Vector3(0, -1, 0) },
  "2": { name: "Side", from: new Vector3(1, 0, 0) },
  "3": { name: "Top", from: new Vector3(0, -0.0005, 1) },
  "4": { name: "Corner", from: new Vector3(0.62, -0.95, 0.42) },
} as const;

export type ViewKey = keyof typeof VIEWS;

const corner = new Vector3();
const right = new Vector3();
const up = new Vector3();
const UP = new Vector3(0, 0, 1);

/** How much larger than a box its picture is. A single flat section has more about it: the next one will stand beside it. */
export function airAbout(box: Box3): number {
  const sides = box.getSize(new Vector3()).toArray();
  return Math.min(...sides) < 1e-6 * Math.max(...sides) ? 2.4 : 1.22;
}

function cornerOf({ min, max }: Box3, i: number): Vector3 {
  return corner.set(i & 1 ? max.x : min.x, i & 2 ? max.y : min.y, i & 4 ? max.z : min.z);
}

/** How far from the middle of the box the eye must be, looking from a direction, to see all of it with some air. */
export function distanceToSee(box: Box3, from: Vector3, camera: PerspectiveCamera, air: number): number {
  const middle = box.getCenter(new Vector3());
  const back = from.clone().normalize();
  right.crossVectors(UP, back).normalize();
  up.crossVectors(back, right);
  const tall = Math.tan(MathUtils.degToRad(camera.fov) / 2);
  const wide = tall * camera.aspect;
  let distance = 1;
  for (let i = 0; i < 8; i++) {
    cornerOf(box, i).sub(middle);
    const near = corner.dot(back);
    distance = Math.max(
      distance,
      near + (Math.abs(corner.dot(right)) * air) / wide,
      near + (Math.abs(corner.dot(up)) * air) / tall,
    );
  }
  return distance;
}

/** Whether every corner of a box is inside the picture. */
export function seesAll(box: Box3, camera: PerspectiveCamera): boolean {
  camera.updateMatrixWorld();
  return [0, 1, 2, 3, 4, 5, 6, 7].every((i) => {
    const { x, y } = cornerOf(box, i).project(camera);
    return Math.abs(x) <= 1 && Math.abs(y) <= 1;
  });
}
