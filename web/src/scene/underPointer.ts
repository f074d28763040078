import * as THREE from "three";
import type { Picking } from "../model/place";
import type { Pointed } from "../picking/answer";
import { nameOf, RING, type NamedLine } from "./bodyGeometry";
import { nearestPlace, triples } from "./lines";
import { smoothRun } from "./runs";
import type { Stage } from "./stage";

/** A place in the window. */
export type Pixel = Pick<PointerEvent, "clientX" | "clientY">;

type Triple = readonly [number, number, number];

/** How near, in pixels, an edge or a rail has to be to be picked. */
const PICKED = 8;

/** What is seen under the pointer: bodies, their faces and edges, sections and rails. */
export class UnderPointer {
  constructor(
    private readonly canvas: HTMLElement,
    private readonly camera: THREE.PerspectiveCamera,
    private readonly stage: Stage,
    /** Pixels at which a place is seen. */
    private readonly onScreen: (at: Triple) => [number, number],
  ) {}

  /** What is to be picked, where it is there. */
  pointedAt(event: Pixel, what: Picking["what"]): Pointed | null {
    switch (what) {
      case "edge":
        return this.edge(event);
      case "face":
        return this.face(event);
      case "spot": {
        const hit = this.hit(event);
        return hit?.face ? { step: hit.body, part: hit.face, at: hit.at.toArray() } : null;
      }
      case "part":
        // an edge where one is near, else the face that is there, else what has none
        return this.edge(event) ?? this.face(event) ?? this.body(event);
      case "body":
        return this.body(event);
      case "rail": {
        const rail = this.rail(event);
        return rail ? { step: rail } : null;
      }
      default: {
        const section = this.section(event);
        return section ? { step: section } : null;
      }
    }
  }

  /** The names that are lit for it: an edge brings the run that it belongs to. */
  namesFor(event: Pixel, what: Picking["what"]): string[] {
    const found = this.pointedAt(event, what);
    if (!found) return [];
    if (what !== "edge" || !found.part) return [found.part ?? found.step];
    const picked = this.stage.picked.runs.find(({ part }) => part === found.part);
    if (picked) return picked.lines.map(nameOf);
    const body = this.stage.bodies.find((b) => b.id === found.step);
    return body ? smoothRun(body.geometry.lines, found.part) : [found.part];
  }

  /** The first body on the way from the eye. */
  hit(event: Pixel): ReturnType<Stage["hit"]> {
    return this.stage.hit(this.ray(event));
  }

  private ray(event: Pixel): THREE.Raycaster {
    const bounds = this.canvas.getBoundingClientRect();
    const at = new THREE.Vector2(
      ((event.clientX - bounds.left) / bounds.width) * 2 - 1,
      1 - ((event.clientY - bounds.top) / bounds.height) * 2,
    );
    const ray = new THREE.Raycaster();
    ray.setFromCamera(at, this.camera);
    return ray;
  }

  rail(event: Pixel): string | null {
    const away = this.from(event);
    return this.stage.rails.find(({ line, mute }) => !mute && away(triples(line)).pixels < PICKED)?.id ?? null;
  }

  /** The section whose ring on a body, or whose outline, is seen nearest. */
  section(event: Pixel): string | null {
    const away = this.from(event);
    const found = { id: null as string | null, pixels: PICKED };
    const look = (id: string, points: [number, number, number][]) => {
      const { pixels } = away(points);
      if (pixels < found.pixels) Object.assign(found, { id, pixels });
    };
    for (const { geometry } of this.stage.bodies)
      for (const { name, segments } of geometry.lines)
        if (name.startsWith(RING)) look(name.slice(RING.length), triples(segments));
    for (const { id, outline, loose } of this.stage.sections) if (loose) look(id, triples(outline));
    return found.id;
  }

  private body(event: Pixel): Pointed | null {
    const hit = this.hit(event);
    return hit ? { step: hit.body } : null;
  }

  /** The face that is seen there; one that is picked stands in the way of what is seen through it since. */
  private face(event: Pixel): Pointed | null {
    const before = this.stage.picked.hit(this.ray(event));
    const hit = this.hit(event);
    const nearer = before && (!hit || before.distance < hit.at.distanceTo(this.camera.position));
    if (before?.face && nearer) return { step: before.body, part: before.face, at: before.at.toArray() };
    return hit?.face ? { step: hit.body, part: hit.face, at: hit.at.toArray() } : null;
  }

  /** The edge of a body that is seen nearest, and not behind what is seen there. */
  private edge(event: Pixel): Pointed | null {
    const away = this.from(event);
    const slack = 0.02 * this.stage.box.getSize(new THREE.Vector3()).length();
    const found = { edge: null as Pointed | null, pixels: PICKED };
    const look = (step: string, part: string, { segments }: NamedLine, depth: number) => {
      for (let i = 0; i + 5 < segments.length; i += 6) {
        const ends = triples(segments.subarray(i, i + 6));
        const { pixels, part: share } = away(ends);
        if (pixels >= found.pixels || !ends[0] || !ends[1]) continue;
        const at = new THREE.Vector3(...ends[0]).lerp(new THREE.Vector3(...ends[1]), share);
        if (at.distanceTo(this.camera.position) > depth + slack) continue;
        Object.assign(found, { edge: { step, part, at: at.toArray() }, pixels });
      }
    };
    // what is picked is judged by the body that it lies on: what came in its place may cover it
    const { picked } = this.stage;
    const before = picked.runs.length ? (picked.hit(this.ray(event))?.distance ?? Infinity) : 0;
    for (const { body, part, lines } of picked.runs) for (const line of lines) look(body, part, line, before);
    const depth = this.hit(event)?.at.distanceTo(this.camera.position) ?? Infinity;
    for (const body of this.stage.bodies)
      for (const line of body.geometry.lines) if (!line.name.startsWith(RING)) look(body.id, nameOf(line), line, depth);
    return found.edge;
  }

  /** How far lines through points are seen from here; further than anything for no line. */
  private from(event: Pixel): (points: [number, number, number][]) => { pixels: number; part: number } {
    const bounds = this.canvas.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    return (points) => nearestPlace(points, x, y, this.onScreen) ?? { pixels: Infinity, part: 0 };
  }
}
