import CameraControls from "camera-controls";
import * as THREE from "three";
import type { Cut, Picking, SceneMode } from "../model/place";
import type { BodyGeometry } from "./bodyGeometry";
import { Grips, type Grip } from "./grips";
import { alike } from "./alike";
import { keepShaders, leaveRenderer, takeRenderer } from "./easel";
import { airAbout, distanceToSee, seesAll, VIEWS, type ViewKey } from "./framing";
import { Lights } from "./lights";
import type { StageListeners, View } from "./listeners";
import type { Plane } from "../model/plane";
import { nearestPlace, type NearestPlace } from "./lines";
import { patience } from "./patience";
import type { PickedOn } from "./picked";
import { PicturePlanes, type StagedPicture } from "./picturePlanes";
import { SceneHand } from "./sceneHand";
import { sameBodies, Stage, type Guide, type StagedBody, type StagedRail, type StagedSection } from "./stage";
import { Tags, type Note } from "./tags";
import { Tripod } from "./tripod";
import { UnderPointer, type Pixel } from "./underPointer";

CameraControls.install({ THREE });

type Triple = readonly [number, number, number];
/** How far from the middle the eye is while there is nothing to see, mm. */
const AWAY = 400;

/** While a design is opened there is other work, ms. */
const OPENING = 2500;

/** Everything drawn in space. It draws when something changed, never in a loop of its own. */
export class Viewport {
  /** What is laid into the page. */
  readonly element = document.createElement("div");
  private readonly renderer = takeRenderer();
  private readonly patience = patience(this.renderer.getContext());
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(22, 1, 1, 20000);
  private readonly controls: CameraControls;
  private readonly lights = new Lights(this.scene);
  private readonly stage = new Stage(this.scene);
  private readonly tags: Tags;
  private readonly tripod: Tripod;
  private readonly grips: Grips;
  private readonly under: UnderPointer;
  private readonly hand: SceneHand;
  private readonly pictures: PicturePlanes;
  /** What was shown last. */
  private readonly said = new Map<string, unknown>();
  private readonly clock = new THREE.Timer();
  private readonly observer: ResizeObserver;
  private frame = 0;
  /** Whether the last picture was drawn with more pixels than the screen has, and until when there is no time for that. */
  private sharp = false;
  private busyUntil = performance.now() + OPENING;
  private rest: ReturnType<typeof setTimeout> | undefined;
  private framed = false;
  private moving = false;
  /** Whether all there is was in view when the eye came to rest. */
  private sawAll = true;
  private size = { width: 1, height: 1 };
  private gathering: ReturnType<typeof setTimeout> | null = null;
  /** Whether the eye is where it looks from: what stands over the picture can be placed before the next one. */
  private drawn = false;
  /** Just come into a place of the page, which is still being made. */
  private entering = 0;

  constructor(
    private listeners: StageListeners,
    /** Where the eye was when the designer left. */
    view: View | null,
  ) {
    const { element } = this;
    element.className = "scene";
    element.dataset["testid"] = "scene";
    const canvas = this.renderer.domElement;
    canvas.setAttribute("role", "img");
    canvas.setAttribute("aria-label", "The body in space");
    // asking for errors would wait for the shaders; ours are tested
    this.renderer.debug.checkShaderErrors = false;
    this.renderer.localClippingEnabled = true;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    element.append(canvas);
    this.camera.up.set(0, 0, 1);
    this.controls = new CameraControls(this.camera, canvas);
    this.controls.dollyToCursor = true;
    this.controls.smoothTime = 0.12;
    this.controls.draggingSmoothTime = 0.04;
    this.controls.addEventListener("update", () => this.invalidate());
    this.controls.addEventListener("control", () => {
      this.framed = true;
      this.invalidate();
    });
    this.tags = new Tags(
      element,
      (id) => this.listeners.pick(id),
      (id) => this.listeners.hover(id),
      (...slid) => this.hand.slide(...slid),
    );
    this.tripod = new Tripod(element);
    this.grips = new Grips(element, (...pulled) => this.listeners.pull(...pulled));
    this.under = new UnderPointer(canvas, this.camera, this.stage, (at) => this.grips.onScreen(at));
    this.hand = new SceneHand(canvas, this.camera, this.stage, this.under, () => this.listeners);
    this.pictures = new PicturePlanes(() => this.invalidate());
    this.scene.add(this.pictures.group);
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(element);
    this.framed = view !== null;
    this.setView(view ?? { position: VIEWS["4"].from.clone().setLength(AWAY).toArray(), target: [0, 0, 0] });
  }

  /** Stand in a place of the page, and tell what the hand does there. */
  enter(place: HTMLElement, listeners: StageListeners): void {
    this.listeners = listeners;
    place.append(this.element);
    this.resize();
    // the page round it first, then the picture
    cancelAnimationFrame(this.entering);
    this.entering = requestAnimationFrame(() => {
      this.entering = requestAnimationFrame(this.entered);
    });
  }

  /** Out of the page, with all that was made for drawing kept. */
  leave(): void {
    this.element.remove();
  }

  setBodies(bodies: StagedBody[]): void {
    if (sameBodies(bodies, this.stage.bodies)) return;
    this.stage.bodies = bodies;
    this.compose(this.patience.joins);
    this.hand.readOver();
    if (!this.framed && bodies.length) this.look("4", false);
  }

  /** From now on the view is the designer's: until then it takes in what comes while a design is opened. */
  keepView(): void {
    if (this.stage.bodies.length) this.framed = true;
  }

  /** After an edit: what has outgrown the view is taken in, unless the designer looks at a part of it. */
  settle(): void {
    if (this.stage.box.isEmpty()) return;
    this.controls.update(0); // the camera may not have been put where it was told to go yet
    const all = seesAll(this.stage.box, this.camera);
    if (!all && this.sawAll) this.fit();
    else this.sawAll = all;
  }

  setSections(sections: StagedSection[]): void {
    if (!this.news("sections", sections)) return;
    const first = this.stage.box.isEmpty();
    this.stage.sections = sections;
    // where a body has the ring of a section, the outline that this was drawn as is not to be seen
    const seen = sections.map((section) => {
      const { id, mark, label, loose } = section;
      return !loose && this.stage.hasRing(id) ? { id, mark, label } : section;
    });
    if (!this.news("sections seen", seen)) return;
    this.compose(this.patience.gathers);
    if (first && !this.framed && !this.stage.box.isEmpty()) this.look("4", false);
  }

  setRails(rails: StagedRail[]): void {
    if (!this.news("rails", rails)) return;
    this.stage.rails = rails;
    this.compose();
  }

  setCombs(combs: Float32Array): void {
    if (!combs.length && !this.stage.combs.length) return;
    this.stage.combs = combs;
    this.compose();
  }

  /** The box of all that there is, mm; null where there is nothing. */
  extent(): { low: Triple; high: Triple } | null {
    const { box } = this.stage;
    return box.isEmpty() ? null : { low: box.min.toArray(), high: box.max.toArray() };
  }

  /** The direction to the eye from a place, or from what is looked at. */
  towardsEye(place?: Triple): Triple {
    const from = place ? new THREE.Vector3(...place) : this.controls.getTarget(new THREE.Vector3());
    return this.camera.position.clone().sub(from).normalize().toArray();
  }

  setCut(cut: Cut | null): void {
    if (!this.news("cut", cut)) return;
    this.stage.setCut(cut);
    this.compose();
  }

  setPictures(pictures: StagedPicture[]): void {
    this.pictures.set(pictures);
  }

  setGrips(grips: Grip[]): void {
    if (!this.news("grips", grips)) return;
    this.grips.set(grips);
    if (this.drawn) this.grips.place(this.camera, this.size.width, this.size.height);
    this.gathering ??= setTimeout(this.gathered, this.patience.gathers);
  }

  /** The body that is seen there. */
  bodyAt(at: Pixel): string | null {
    return this.under.hit(at)?.body ?? null;
  }

  /** What a click picks; null: whatever is there. */
  pickOnly(what: Picking["what"] | null): void {
    this.hand.picking = what;
    this.element.classList.toggle("picking", what !== null);
    if (!what) this.setLight([]);
  }

  /** Light faces and edges by name, or the edges of a body by that of its step. */
  setLight(names: readonly string[]): void {
    if (names.length === this.stage.lit.length && names.every((name, i) => name === this.stage.lit[i])) return;
    this.stage.lit = names;
    this.element.dataset["lit"] = names.join(" ");
    this.stage.drawLight();
    this.invalidate();
  }

  /** The place on a line through points (mm) that is seen nearest to a pixel of the scene; null for no line. */
  nearest(points: readonly (readonly [number, number, number])[], x: number, y: number): NearestPlace | null {
    return nearestPlace(points, x, y, (at) => this.grips.onScreen(at));
  }

  setSelected(selected: string | null, hovered: string | null): void {
    if (selected === this.stage.selected && hovered === this.stage.hovered) return;
    this.stage.selected = selected;
    this.stage.hovered = hovered;
    this.compose();
  }

  /** The way in which a part leaves its mould. */
  setPull(pull: readonly [number, number, number]): void {
    if (pull.every((value, i) => value === this.stage.pull[i])) return;
    this.stage.pull = pull;
    this.compose();
    this.hand.readOver();
  }

  setMode(mode: SceneMode): void {
    if (mode === this.stage.mode) return;
    this.stage.mode = mode;
    this.compose();
    this.hand.readOver();
  }

  /** mm in the unit of the design: scales have round numbers in it. */
  setUnit(mm: number): void {
    if (mm === this.stage.unit) return;
    this.stage.unit = mm;
    this.compose();
  }

  setLit(points: readonly (readonly [number, number, number])[]): void {
    if (!this.news("lit", points)) return;
    this.tags.light(points);
    this.invalidate();
  }

  /** Numbers that are measured. */
  setNotes(notes: readonly Note[], selected: string | null): void {
    if (!this.news("notes", { notes, selected })) return;
    this.tags.note(notes, selected);
    this.gathering ??= setTimeout(this.gathered, this.patience.gathers);
  }

  setMarks(points: readonly (readonly [number, number, number])[]): void {
    if (!this.news("marks", points)) return;
    this.tags.mark(points);
    this.gathering ??= setTimeout(this.gathered, this.patience.gathers);
  }

  /** Lay bodies of another time over the present ones. */
  setGhosts(geometries: BodyGeometry[]): void {
    if (!this.news("ghosts", geometries.length ? geometries : null)) return;
    this.stage.setGhosts(geometries);
    this.invalidate();
  }

  /** What is picked so far for the step that asks. */
  setPicked(on: readonly PickedOn[]): void {
    if (!on.length && !this.stage.picked.count) return;
    this.stage.picked.set(on);
    this.element.dataset["picked"] = String(this.stage.picked.count);
    this.invalidate();
  }

  /** A light ring round a body where a plane cuts it. */
  setGuide(guide: Guide | null): void {
    this.stage.guide = guide;
    this.stage.drawGuide();
    this.invalidate();
  }

  /** Look from one of the standard directions at all there is. */
  look(view: ViewKey, smoothly = true): void {
    this.lookFrom(VIEWS[view].from, smoothly);
  }

  /** Go near to what is selected, from where the eye is. */
  near(): void {
    const box = this.stage.boxOf(this.stage.selected);
    if (!box) return;
    const eye = this.controls.getPosition(new THREE.Vector3()).sub(this.controls.getTarget(new THREE.Vector3()));
    this.lookFrom(eye, true, box);
  }

  /** Look square at a plane, from the side on which the eye is now. */
  square({ x, y }: Plane): void {
    const across = new THREE.Vector3(...x).cross(new THREE.Vector3(...y));
    const eye = this.controls.getPosition(new THREE.Vector3()).sub(this.controls.getTarget(new THREE.Vector3()));
    if (across.dot(eye) < 0) across.negate();
    // straight from above there would be no up
    if (Math.hypot(across.x, across.y) < 5e-4 * Math.abs(across.z)) across.y -= 5e-4 * Math.abs(across.z);
    this.lookFrom(across, true);
  }

  /** See all there is from where the eye is now. */
  fit(): void {
    const eye = this.controls.getPosition(new THREE.Vector3());
    this.lookFrom(eye.sub(this.controls.getTarget(new THREE.Vector3())), true);
  }

  private setView(view: View): void {
    const [px = 0, py = -1, pz = 0] = view.position;
    const [tx = 0, ty = 0, tz = 0] = view.target;
    void this.controls.setLookAt(px, py, pz, tx, ty, tz, false);
    this.invalidate();
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    cancelAnimationFrame(this.entering);
    this.observer.disconnect();
    this.hand.dispose();
    keepShaders(this.renderer);
    this.stage.dispose();
    this.tags.dispose();
    this.grips.dispose();
    this.pictures.dispose();
    this.tripod.dispose();
    this.controls.dispose();
    clearTimeout(this.rest);
    clearTimeout(this.gathering ?? undefined);
    this.element.remove();
    this.renderer.domElement.remove();
    leaveRenderer(this.renderer);
  }

  private lookFrom(from: THREE.Vector3, smoothly: boolean, box: THREE.Box3 = this.stage.box): void {
    if (box.isEmpty()) return;
    const middle = box.getCenter(new THREE.Vector3());
    const eye = from
      .clone()
      .setLength(distanceToSee(box, from, this.camera, airAbout(box)))
      .add(middle);
    void this.controls.setLookAt(eye.x, eye.y, eye.z, middle.x, middle.y, middle.z, smoothly);
    this.sharpen(false);
    this.invalidate();
  }

  private tellView(): void {
    // where nothing is to be seen nothing is worth coming back to
    if (this.stage.box.isEmpty()) return;
    this.sawAll = seesAll(this.stage.box, this.camera);
    const target = this.controls.getTarget(new THREE.Vector3());
    this.listeners.viewed({ position: this.camera.position.toArray(), target: target.toArray() });
  }

  /** wait: ms in which more may come that belongs to it. */
  private compose(wait = 0): void {
    // what changed is shown at once, and finely when nothing more comes
    this.busyUntil = Math.max(this.busyUntil, performance.now() + this.patience.rest);
    this.stage.compose();
    this.listeners.scaled(this.stage.scale);
    this.tags.set(this.stage.tags(), this.stage.selected);
    if (this.drawn) this.tags.place(this.camera, this.size.width, this.size.height);
    if (!wait) this.invalidate();
    else this.gathering ??= setTimeout(this.gathered, wait);
  }

  /** Whether something to be shown says anything else than before: a picture costs more than looking. */
  private news(of: string, said: unknown): boolean {
    if (alike(this.said.get(of) ?? null, said)) return false;
    this.said.set(of, said);
    return true;
  }

  private resize(): void {
    const { clientWidth, clientHeight } = this.element;
    if (!clientWidth || !clientHeight) return;
    if (clientWidth === this.size.width && clientHeight === this.size.height) return;
    this.size = { width: clientWidth, height: clientHeight };
    this.renderer.setSize(clientWidth, clientHeight);
    this.camera.aspect = clientWidth / clientHeight;
    this.camera.updateProjectionMatrix();
    this.invalidate();
  }

  private invalidate(): void {
    // where the processor draws, whatever changes is shown coarsely at once: a pointer that goes over things is enough
    if (this.patience.always) this.busyUntil = performance.now() + this.patience.rest;
    this.redraw();
  }

  private readonly gathered = (): void => {
    this.gathering = null;
    this.invalidate();
  };

  private redraw(): void {
    if (!this.frame && !this.entering) this.frame = requestAnimationFrame(this.draw);
  }

  private readonly entered = (): void => {
    this.entering = 0;
    this.redraw();
  };

  private readonly draw = (): void => {
    this.frame = 0;
    clearTimeout(this.gathering ?? undefined);
    this.gathering = null;
    if (!this.element.isConnected) return;
    this.clock.update();
    const moving = this.controls.update(Math.min(this.clock.getDelta(), 0.1));
    this.sharpen(!moving && performance.now() >= this.busyUntil);
    this.camera.updateMatrixWorld();
    this.drawn = true;
    this.lights.follow(this.camera);
    this.renderer.render(this.scene, this.camera);
    this.tags.place(this.camera, this.size.width, this.size.height);
    this.grips.place(this.camera, this.size.width, this.size.height);
    this.tripod.turn(this.camera);
    if (moving) this.invalidate();
    else if (this.moving) {
      this.tellView();
      // what is under a pointer that rested all the while is something else now
      this.hand.readOver();
    }
    this.moving = moving;
    clearTimeout(this.rest);
    if (!this.sharp) this.rest = setTimeout(() => this.redraw(), this.patience.rest);
  };

  /** While nothing moves outlines are drawn from four times as many pixels; while something does, speed is worth more. */
  private sharpen(on: boolean): void {
    if (on === this.sharp) return;
    this.sharp = on;
    this.element.dataset["fine"] = String(on);
    const wanted = Math.min((on ? 2 : 1) * window.devicePixelRatio, 2);
    if (wanted !== this.renderer.getPixelRatio()) this.renderer.setPixelRatio(wanted);
  }
}
