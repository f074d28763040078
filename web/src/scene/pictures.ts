import * as THREE from "three";
import { bodyGeometry, RING } from "./bodyGeometry";
import { keepShaders, leaveRenderer, takeRenderer } from "./easel";
import { distanceToSee, VIEWS } from "./framing";
import { Lights } from "./lights";
import { lineMaterial, shadowMaterial, skinMaterial } from "./materials";
import { colours } from "../theme/colours";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";

const SIZE = { width: 560, height: 380 };
const taken = new Map<string, Promise<string>>();
let queue: Promise<unknown> = Promise.resolve();

/** A picture of bodies, by the keys of their meshes, as a data address. One renderer takes them all, one after the other. */
export function picture(meshes: readonly string[]): Promise<string> {
  const key = meshes.join(" ");
  const known = taken.get(key);
  if (known) return known;
  const job = queue.then(() => take(meshes));
  queue = job.catch(() => undefined);
  taken.set(key, job);
  job.catch(() => taken.delete(key));
  return job;
}

async function take(meshes: readonly string[]): Promise<string> {
  const bodies = await Promise.all(meshes.map((mesh) => bodyGeometry(mesh)));
  const renderer = takeRenderer();
  const [skin, open] = [skinMaterial(), skinMaterial()];
  open.hatched.value = 0;
  const edge = lineMaterial(colours.brass, 2);
  const ground = shadowMaterial();
  const patch = new THREE.PlaneGeometry(1, 1);
  try {
    renderer.setPixelRatio(1);
    renderer.setSize(SIZE.width, SIZE.height, false);
    const scene = new THREE.Scene();
    const camera = new THREE.PerspectiveCamera(22, SIZE.width / SIZE.height, 1, 20000);
    camera.up.set(0, 0, 1);
    const box = new THREE.Box3();
    for (const { surface, sheet } of bodies) {
      scene.add(new THREE.Mesh(surface, sheet ? open : skin));
      surface.computeBoundingBox();
      if (surface.boundingBox) box.union(surface.boundingBox);
    }
    const rings = bodies
      .flatMap(({ lines }) => lines)
      .filter((line) => line.name.startsWith(RING) && line.segments.length >= 6);
    const drawn = rings.map((ring) => new LineSegments2(new LineSegmentsGeometry().setPositions(ring.segments), edge));
    for (const line of drawn) scene.add(line);
    const size = box.getSize(new THREE.Vector3());
    const middle = box.getCenter(new THREE.Vector3());
    const shadow = new THREE.Mesh(patch, ground);
    shadow.position.set(middle.x, middle.y, box.min.z - 0.002 * size.z);
    shadow.scale.set(size.x * 1.55, size.y * 1.55, 1);
    scene.add(shadow);
    const from = VIEWS["4"].from;
    camera.position.copy(
      from
        .clone()
        .setLength(distanceToSee(box, from, camera, 1.16))
        .add(middle),
    );
    camera.lookAt(middle);
    camera.updateMatrixWorld();
    new Lights(scene).follow(camera);
    renderer.render(scene, camera);
    drawn.forEach((line) => line.geometry.dispose());
    // at once: what was drawn is there until the browser takes it
    return renderer.domElement.toDataURL("image/png");
  } finally {
    keepShaders(renderer);
    skin.dispose();
    edge.dispose();
    ground.map?.dispose();
    ground.dispose();
    patch.dispose();
    leaveRenderer(renderer);
  }
}
