import * as THREE from "three";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import { nameOf, type BodyGeometry, type NamedLine } from "./bodyGeometry";
import { facesOf } from "./facesOf";
import { smoothRun } from "./runs";

/** What was picked of a body by the step that asks. names: its edges and faces that were picked. */
export interface PickedBefore {
  body: string;
  geometry: BodyGeometry;
  names: readonly string[];
}

/** An edge that was picked, with all that went on smoothly from it. */
interface TakenRun {
  picked: string;
  lines: NamedLine[];
}

/** What was picked for the step that asks, as it was before: edges that are rounded since and faces that are open are still seen, and taken out again by a click. */
export class TakenUp {
  readonly group = new THREE.Group();
  body = "";
  runs: TakenRun[] = [];
  faces = new Map<number, string>();
  private mesh: THREE.Mesh | null = null;
  private geometry: BodyGeometry | null = null;

  constructor(
    private readonly line: THREE.Material,
    private readonly skin: THREE.Material,
  ) {}

  /** left: the names of what is seen without it. */
  set(before: PickedBefore | null, left: ReadonlySet<string>): void {
    this.dispose();
    if (!before) return;
    const { geometry, body } = before;
    const edges = new Map(geometry.lines.map((line) => [nameOf(line), line]));
    this.body = body;
    this.geometry = geometry;
    this.runs = before.names
      .filter((name) => edges.has(name) && !left.has(name))
      .map((picked) => ({
        picked,
        lines: smoothRun(geometry.lines, picked).flatMap((name) => (left.has(name) ? [] : (edges.get(name) ?? []))),
      }));
    // the rim round a face that was opened may carry its name on
    this.faces = new Map(
      geometry.faces.flatMap((name, i) => (before.names.includes(name) ? [[i, name] as const] : [])),
    );
    if (!this.runs.length && !this.faces.size) return;
    // what lies behind the body as it was can't be meant
    this.mesh = new THREE.Mesh(geometry.surface);
    for (const { segments } of this.lines())
      if (segments.length >= 6)
        this.group.add(new LineSegments2(new LineSegmentsGeometry().setPositions(segments), this.line as never));
    if (this.faces.size) this.group.add(new THREE.Mesh(facesOf(geometry, new Set(this.faces.keys())), this.skin));
  }

  lines(): NamedLine[] {
    return this.runs.flatMap(({ lines }) => lines);
  }

  /** The body as it was, where a ray meets it first: how far off, mm, and the face that is there if it was picked. */
  hit(ray: THREE.Raycaster): { distance: number; at: THREE.Vector3; face: string | null } | null {
    const [first] = this.mesh ? ray.intersectObject(this.mesh) : [];
    if (!first) return null;
    const number = first.face && this.geometry?.surface.getAttribute("_face")?.getX(first.face.a);
    return {
      distance: first.distance,
      at: first.point,
      face: typeof number === "number" ? (this.faces.get(number) ?? null) : null,
    };
  }

  dispose(): void {
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (child instanceof THREE.Mesh || child instanceof LineSegments2) child.geometry.dispose();
    }
    this.body = "";
    this.runs = [];
    this.faces = new Map();
    this.mesh = null;
    this.geometry = null;
  }
}
