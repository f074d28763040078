import CameraControls from "camera-controls";
import * as THREE from "three";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { SceneMode } from "../model/place";
import { colours } from "../theme/colours";
import { RING, UNDER, type BodyGeometry } from "./bodyGeometry";
import { Grips, type Grip, type Pull } from "./grips";
import { distanceToSee, VIEWS, type ViewKey } from "./framing";
import { Lights } from "./lights";
import { chords, nearestPlace, triples, type NearestPlace } from "./lines";
import { ghostMaterial, lineMaterial, shadowMaterial, skinMaterial, throughMaterial } from "./materials";
import { PicturePlanes } from "./picturePlanes";
import { planeCut } from "./planeCut";
import { Tags } from "./tags";
import { Tripod } from "./tripod";

CameraControls.install({ THREE });

/** A body on stage. stale: it could not be rebuilt, this is how it was. */
export interface StagedBody {
  id: string;
  geometry: BodyGeometry;
  stale: boolean;
}

/** A section on stage; loose ones are drawn here, the others come with their body. outline: flat points in space, mm. */
export interface StagedSection {
  id: string;
  number: number;
  name: string;
  loose: boolean;
  outline: Float32Array;
  /** The way its station goes, and a point on it. */
  axis: readonly [number, number, number];
  origin: readonly [number, number, number];
}

/** A rail on stage. line: flat points in space, mm. */
export interface StagedRail {
  id: string;
  line: Float32Array;
}

/** A reference picture on stage: its middle and its two half sides in space, mm. */
export interface StagedPicture {
  url: string;
  middle: readonly [number, number, number];
  right: readonly [number, number, number];
  up: readonly [number, number, number];
  opacity: number;
}

export interface StageListeners {
  pick: (id: string | null) => void;
  hover: (id: string | null) => void;
  viewed: (view: View) => void;
  /** A section is dragged along its body. At the start `amount` is mm for each pixel, then the way in pixels. */
  slide: (id: string, phase: "start" | "move" | "end", amount: number, fine: boolean) => void;
  /** A grip is pulled about. */
  pull: Pull;
  /** An edge of a body is picked, where edges are what is picked. */
  edge: (body: string, name: string) => void;
  /** A place on a body is pointed at, mm; null: none. */
  point: (body: string | null, at: readonly [number, number, number]) => void;
}

/** A plane square to a direction through a body, mm along it. */
export interface Guide {
  body: string;
  axis: readonly [number, number, number];
  at: number;
}

/** Camera position and target, mm. */
export interface View {
  position: number[];
  target: number[];
}

/** How near, in pixels, an edge or a rail has to be to be picked. */
const PICKED = 8;

/** Everything drawn in space. It draws when something changed, never in a loop of its own. */
export class Viewport {
  private readonly renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true });
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(22, 1, 1, 20000);
  private readonly controls: CameraControls;
  private readonly lights = new Lights(this.scene);
  private readonly tags: Tags;
  private readonly tripod: Tripod;
  private readonly grips: Grips;
  private rails: StagedRail[] = [];
  private readonly pictures: PicturePlanes;
  private edgesOnly = false;
  private readonly stage = new THREE.Group();
  private readonly overlay = new THREE.Group();
  private readonly ghosts = new THREE.Group();
  private readonly ghostSkin = ghostMaterial();
  private readonly skin = skinMaterial();
  private readonly shadow = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), shadowMaterial());
  private readonly lineStyles = {
    edge: lineMaterial(colours.ink, 1.3),
    ring: lineMaterial(colours.brass, 1.6),
    chosen: lineMaterial(colours.buoy, 3),
    rail: lineMaterial(colours.estuary, 2.4),
    hidden: throughMaterial(colours.estuary, 2),
    hiddenChosen: throughMaterial(colours.buoy, 2.4),
    guide: lineMaterial(colours.buoy, 2),
  };
  private readonly clock = new THREE.Timer();
  private readonly observer: ResizeObserver;
  private bodies: StagedBody[] = [];
  private sections: StagedSection[] = [];
  private selected: string | null = null;
  private hovered: string | null = null;
  private mode: SceneMode = "edges";
  private frame = 0;
  private framed = false;
  private guide: Guide | null = null;
  private moving = false;
  private size = { width: 1, height: 1 };
  private readonly box = new THREE.Box3();
  private pointing = 0;
  /** Pixels on screen for each mm that the section being dragged goes along. */
  private readonly way = new THREE.Vector2();
  private pressed: { x: number; y: number } | null = null;

  constructor(
    private readonly container: HTMLElement,
    private readonly listeners: StageListeners,
    /** Where the eye was when the designer left. */
    view: View | null,
  ) {
    const canvas = this.renderer.domElement;
    canvas.setAttribute("role", "img");
    canvas.setAttribute("aria-label", "The body in space");
    // asking for errors would wait for the shaders; ours are tested
    this.renderer.debug.checkShaderErrors = false;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    container.append(canvas);
    this.camera.up.set(0, 0, 1);
    this.controls = new CameraControls(this.camera, canvas);
    this.controls.dollyToCursor = true;
    this.controls.smoothTime = 0.12;
    this.controls.draggingSmoothTime = 0.04;
    this.controls.addEventListener("update", () => this.invalidate());
    this.controls.addEventListener("control", () => this.invalidate());
    this.tags = new Tags(container, listeners.pick, listeners.hover, this.slide);
    this.tripod = new Tripod(container);
    this.grips = new Grips(container, listeners.pull);
    this.pictures = new PicturePlanes(() => this.invalidate());
    this.shadow.visible = false;
    this.scene.add(this.pictures.group, this.stage, this.shadow, this.overlay, this.ghosts);
    canvas.addEventListener("pointerdown", this.press);
    canvas.addEventListener("pointerup", this.release);
    canvas.addEventListener("pointermove", this.hoverOver);
    canvas.addEventListener("pointerleave", () => this.listeners.point(null, [0, 0, 0]));
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(container);
    this.resize();
    this.framed = view !== null;
    if (view) this.setView(view);
  }

  setBodies(bodies: StagedBody[]): void {
    this.bodies = bodies;
    this.compose();
    if (!this.framed && bodies.length) {
      this.framed = true;
      this.look("4", false);
    }
  }

  setSections(sections: StagedSection[]): void {
    const first = this.box.isEmpty();
    this.sections = sections;
    this.compose();
    if (first && !this.framed && !this.box.isEmpty()) this.look("4", false);
  }

  setRails(rails: StagedRail[]): void {
    if (!rails.length && !this.rails.length) return;
    this.rails = rails;
    this.compose();
  }

  setPictures(pictures: StagedPicture[]): void {
    this.pictures.set(pictures);
  }

  setGrips(grips: Grip[]): void {
    this.grips.set(grips);
    this.invalidate();
  }

  /** Whether a click picks an edge rather than a body. */
  pickEdges(on: boolean): void {
    this.edgesOnly = on;
  }

  /** The place on a line through points (mm) that is seen nearest to a pixel of the scene; null for no line. */
  nearest(points: readonly (readonly [number, number, number])[], x: number, y: number): NearestPlace | null {
    return nearestPlace(points, x, y, (at) => this.grips.onScreen(at));
  }

  setSelected(selected: string | null, hovered: string | null): void {
    if (selected === this.selected && hovered === this.hovered) return;
    this.selected = selected;
    this.hovered = hovered;
    this.compose();
  }

  setMode(mode: SceneMode): void {
    this.mode = mode;
    this.compose();
  }

  setLit(points: readonly (readonly [number, number, number])[]): void {
    this.tags.light(points);
    this.invalidate();
  }

  setMarks(points: readonly (readonly [number, number, number])[]): void {
    this.tags.mark(points);
    this.invalidate();
  }

  /** Lay bodies of another time over the present ones. */
  setGhosts(geometries: BodyGeometry[]): void {
    this.ghosts.clear();
    for (const { surface } of geometries) this.ghosts.add(new THREE.Mesh(surface, this.ghostSkin));
    this.invalidate();
  }

  /** A light ring round a body where a plane cuts it. */
  setGuide(guide: Guide | null): void {
    this.guide = guide;
    this.drawGuide();
    this.invalidate();
  }

  private drawGuide(): void {
    for (const child of this.overlay.children) if (child instanceof LineSegments2) child.geometry.dispose();
    this.overlay.clear();
    const body = this.bodies.find((b) => b.id === this.guide?.body);
    if (!this.guide || !body) return;
    const segments = planeCut(body.geometry.surface, this.guide.axis, this.guide.at);
    if (segments.length >= 6)
      this.overlay.add(
        new LineSegments2(new LineSegmentsGeometry().setPositions(segments), this.lineStyles.guide as never),
      );
  }

  /** Look from one of the standard directions at all there is. */
  look(view: ViewKey, smoothly = true): void {
    this.lookFrom(VIEWS[view].from, smoothly);
  }

  /** See all there is from where the eye is now. */
  fit(): void {
    this.lookFrom(this.camera.position.clone().sub(this.controls.getTarget(new THREE.Vector3())), true);
  }

  private setView(view: View): void {
    const [px = 0, py = -1, pz = 0] = view.position;
    const [tx = 0, ty = 0, tz = 0] = view.target;
    void this.controls.setLookAt(px, py, pz, tx, ty, tz, false);
    this.invalidate();
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    cancelAnimationFrame(this.pointing);
    this.observer.disconnect();
    this.clear();
    this.setGuide(null);
    this.ghosts.clear();
    this.ghostSkin.dispose();
    this.skin.dispose();
    Object.values(this.lineStyles).forEach((style) => style.dispose());
    this.shadow.geometry.dispose();
    this.shadow.material.map?.dispose();
    this.shadow.material.dispose();
    this.tags.dispose();
    this.grips.dispose();
    this.pictures.dispose();
    this.tripod.dispose();
    this.controls.dispose();
    this.renderer.domElement.remove();
    this.renderer.dispose();
  }

  private lookFrom(from: THREE.Vector3, smoothly: boolean): void {
    if (this.box.isEmpty()) return;
    const middle = this.box.getCenter(new THREE.Vector3());
    const eye = from
      .clone()
      .setLength(distanceToSee(this.box, from, this.camera))
      .add(middle);
    void this.controls.setLookAt(eye.x, eye.y, eye.z, middle.x, middle.y, middle.z, smoothly);
    this.invalidate();
  }

  private tellView(): void {
    const target = this.controls.getTarget(new THREE.Vector3());
    this.listeners.viewed({ position: this.camera.position.toArray(), target: target.toArray() });
  }

  private clear(): void {
    for (const child of [...this.stage.children]) {
      this.stage.remove(child);
      if (child instanceof LineSegments2) child.geometry.dispose();
    }
  }

  private compose(): void {
    this.clear();
    this.box.makeEmpty();
    for (const body of this.bodies) {
      const mesh = new THREE.Mesh(body.geometry.surface, this.skin);
      mesh.userData["step"] = body.id;
      this.stage.add(mesh);
      body.geometry.surface.computeBoundingBox();
      if (body.geometry.surface.boundingBox) this.box.union(body.geometry.surface.boundingBox);
      for (const line of body.geometry.lines) if (!line.name.startsWith(UNDER)) this.addLine(line.name, line.segments);
    }
    const stale = this.bodies.some((body) => body.stale);
    this.skin.wireframe = this.mode === "wire";
    this.skin.color.set(this.mode === "wire" ? colours.inkSoft : stale ? "#D9D4C8" : colours.body);
    for (const section of this.sections) {
      if (section.loose || !this.bodies.length) this.addOutline(section);
    }
    for (const { id, line } of this.rails) {
      const chosen = id === this.selected || id === this.hovered;
      this.add(chords(line), chosen ? this.lineStyles.chosen : this.lineStyles.rail);
      this.add(chords(line), chosen ? this.lineStyles.hiddenChosen : this.lineStyles.hidden);
      for (let i = 0; i < line.length; i += 3) this.box.expandByPoint(new THREE.Vector3().fromArray(line, i));
    }
    this.placeShadow();
    this.drawGuide();
    const rings = new Map(this.bodies.flatMap((body) => body.geometry.lines.map((line) => [line.name, line.segments])));
    this.tags.set(
      this.sections.map(({ id, number, name, outline }) => ({
        id,
        number,
        name,
        // laws may have taken it elsewhere than it was drawn
        ring: rings.get(RING + id) ?? outline,
      })),
      this.selected,
    );
    this.invalidate();
  }

  private addLine(name: string, segments: Float32Array): void {
    const section = name.startsWith(RING) ? name.slice(RING.length) : null;
    const chosen = section !== null && (section === this.selected || section === this.hovered);
    if (this.mode === "shade" && !chosen) return;
    this.add(segments, chosen ? this.lineStyles.chosen : section ? this.lineStyles.ring : this.lineStyles.edge);
  }

  private addOutline(section: StagedSection): void {
    const points = section.outline;
    for (let i = 0; i < points.length; i += 3) this.box.expandByPoint(new THREE.Vector3().fromArray(points, i));
    const chosen = section.id === this.selected || section.id === this.hovered;
    this.add(chords(points), chosen ? this.lineStyles.chosen : this.lineStyles.ring);
  }

  private add(segments: Float32Array, material: THREE.Material): void {
    if (segments.length < 6) return;
    const line = new LineSegments2(new LineSegmentsGeometry().setPositions(segments), material as never);
    this.stage.add(line);
  }

  private placeShadow(): void {
    this.shadow.visible = this.bodies.length > 0 && this.mode !== "wire";
    const size = this.box.getSize(new THREE.Vector3());
    const middle = this.box.getCenter(new THREE.Vector3());
    this.shadow.position.set(middle.x, middle.y, this.box.min.z - 0.002 * size.z);
    this.shadow.scale.set(size.x * 1.55, size.y * 1.55, 1);
  }

  private resize(): void {
    const { clientWidth, clientHeight } = this.container;
    if (!clientWidth || !clientHeight) return;
    this.size = { width: clientWidth, height: clientHeight };
    this.renderer.setSize(clientWidth, clientHeight);
    this.camera.aspect = clientWidth / clientHeight;
    this.camera.updateProjectionMatrix();
    this.invalidate();
  }

  private invalidate(): void {
    if (!this.frame) this.frame = requestAnimationFrame(this.draw);
  }

  private readonly draw = (): void => {
    this.frame = 0;
    this.clock.update();
    const moving = this.controls.update(Math.min(this.clock.getDelta(), 0.1));
    this.camera.updateMatrixWorld();
    this.lights.follow(this.camera);
    this.renderer.render(this.scene, this.camera);
    this.tags.place(this.camera, this.size.width, this.size.height);
    this.grips.place(this.camera, this.size.width, this.size.height);
    this.tripod.turn(this.camera);
    if (moving) this.invalidate();
    else if (this.moving) this.tellView();
    this.moving = moving;
  };

  private readonly press = (event: PointerEvent): void => {
    this.pressed = { x: event.clientX, y: event.clientY };
  };

  private readonly release = (event: PointerEvent): void => {
    const from = this.pressed;
    this.pressed = null;
    if (!from || Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4) return;
    const bounds = this.renderer.domElement.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    if (this.edgesOnly) {
      const edge = this.lineAt(x, y);
      if (edge) this.listeners.edge(...edge);
      return;
    }
    const rail = this.rails.find(({ line }) => (this.nearest(triples(line), x, y)?.pixels ?? PICKED) < PICKED);
    this.listeners.pick(rail?.id ?? (this.under(event)?.object.userData["step"] as string | undefined) ?? null);
  };

  /** The edge of a body that is seen nearest to a pixel: its body and its name. */
  private lineAt(x: number, y: number): [string, string] | null {
    let found: { edge: [string, string]; pixels: number } | null = null;
    for (const body of this.bodies)
      for (const { name, segments } of body.geometry.lines) {
        if (name.startsWith(RING)) continue;
        for (let i = 0; i + 5 < segments.length; i += 6) {
          const pixels = this.nearest(triples(segments.subarray(i, i + 6)), x, y)?.pixels ?? PICKED;
          if (pixels < (found?.pixels ?? PICKED)) found = { edge: [body.id, name.replace(UNDER, "")], pixels };
        }
      }
    return found?.edge ?? null;
  }

  private readonly slide = (id: string, phase: "start" | "move" | "end", x: number, y: number, fine: boolean): void => {
    if (phase === "start") {
      const section = this.sections.find((s) => s.id === id);
      if (!section) return;
      const here = new THREE.Vector3(...section.origin);
      const there = here.clone().add(new THREE.Vector3(...section.axis));
      const [a, b] = [here, there].map((p) => p.project(this.camera));
      if (!a || !b) return;
      this.way.set(((b.x - a.x) / 2) * this.size.width, ((a.y - b.y) / 2) * this.size.height);
      // seen from the end there is no way to drag along
      if (this.way.length() < 0.05) this.way.set(0, 0);
      else this.listeners.slide(id, phase, 1 / this.way.length(), fine);
      return;
    }
    const length = this.way.length();
    if (length) this.listeners.slide(id, phase, (x * this.way.x + y * this.way.y) / length, fine);
  };

  private readonly hoverOver = (event: PointerEvent): void => {
    if (event.buttons || this.pointing) return;
    // a body has thousands of triangles: once a frame is enough
    this.pointing = requestAnimationFrame(() => {
      this.pointing = 0;
      const hit = this.under(event);
      this.listeners.point(
        (hit?.object.userData["step"] as string | undefined) ?? null,
        hit ? hit.point.toArray() : [0, 0, 0],
      );
    });
  };

  private under(event: PointerEvent): THREE.Intersection | undefined {
    const bounds = this.renderer.domElement.getBoundingClientRect();
    const at = new THREE.Vector2(
      ((event.clientX - bounds.left) / bounds.width) * 2 - 1,
      1 - ((event.clientY - bounds.top) / bounds.height) * 2,
    );
    const ray = new THREE.Raycaster();
    ray.setFromCamera(at, this.camera);
    return ray.intersectObjects(
      this.stage.children.filter((child) => child instanceof THREE.Mesh && child.userData["step"]),
    )[0];
  }
}
