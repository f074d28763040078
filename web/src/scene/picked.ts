import * as THREE from "three";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import { nameOf, type BodyGeometry, type NamedLine } from "./bodyGeometry";
import { facesOf } from "./facesOf";
import { smoothRun } from "./runs";

/** Edges and faces of a body that are picked, by name, and that body as it is to the step that asks for them. */
export interface PickedOn {
  body: string;
  geometry: BodyGeometry;
  names: readonly string[];
}

/** An edge that is picked, with all that goes on smoothly from it. */
interface PickedRun {
  body: string;
  part: string;
  lines: NamedLine[];
}

/** Where a ray meets a body as it is to the step that asks. face: what is there, where that is picked. */
interface Met {
  body: string;
  distance: number;
  at: THREE.Vector3;
  face: string | null;
}

/** What is picked so far for the step that asks. It is seen and taken out again by a click even where that step has rounded or opened it since. */
export class Picked {
  readonly group = new THREE.Group();
  runs: PickedRun[] = [];
  private on: readonly PickedOn[] = [];
  private meshes: THREE.Mesh[] = [];

  constructor(
    private readonly line: THREE.Material,
    private readonly skin: THREE.Material,
  ) {}

  /** How many edges and faces. */
  get count(): number {
    const faces = this.on.flatMap(({ geometry, names }) => geometry.faces.filter((name) => names.includes(name)));
    return this.runs.length + faces.length;
  }

  set(on: readonly PickedOn[]): void {
    this.dispose();
    this.on = on;
    this.runs = on.flatMap(({ body, geometry, names }) => {
      const edges = new Map(geometry.lines.map((line) => [nameOf(line), line]));
      return names
        .filter((name) => edges.has(name))
        .map((part) => ({
          body,
          part,
          lines: smoothRun(geometry.lines, part).flatMap((name) => edges.get(name) ?? []),
        }));
    });
    for (const { segments } of this.runs.flatMap(({ lines }) => lines))
      this.group.add(new LineSegments2(new LineSegmentsGeometry().setPositions(segments), this.line as never));
    for (const { geometry, names } of on) {
      const faces = geometry.faces.flatMap((name, i) => (names.includes(name) ? [i] : []));
      if (faces.length) this.group.add(new THREE.Mesh(facesOf(geometry, new Set(faces)), this.skin));
    }
    this.meshes = on.map(({ geometry }) => new THREE.Mesh(geometry.surface));
  }

  /** The body, as it is to the step that asks, that a ray meets first. */
  hit(ray: THREE.Raycaster): Met | null {
    const [first] = ray.intersectObjects(this.meshes);
    const on = first && this.on[this.meshes.findIndex((mesh) => mesh === first.object)];
    if (!on) return null;
    const { body, geometry, names } = on;
    const number = first.face && geometry.surface.getAttribute("_face")?.getX(first.face.a);
    const name = typeof number === "number" ? geometry.faces[number] : undefined;
    return { body, distance: first.distance, at: first.point, face: name && names.includes(name) ? name : null };
  }

  dispose(): void {
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (child instanceof THREE.Mesh || child instanceof LineSegments2) child.geometry.dispose();
    }
    this.runs = [];
    this.on = [];
    this.meshes = [];
  }
}
