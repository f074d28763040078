import * as THREE from "three";
import type { Picking } from "../model/place";
import type { StageListeners } from "./listeners";
import type { Stage } from "./stage";
import type { Pixel, UnderPointer } from "./underPointer";

/** What the hand does over the picture: clicks that pick, what the pointer rests on, sections that are slid by their tags. */
export class SceneHand {
  /** What a click picks; null: whatever is there. */
  picking: Picking["what"] | null = null;
  private pointing = 0;
  /** Where the pointer rests over the picture. */
  private over: Pixel | null = null;
  /** The section whose ring the pointer is over. */
  private overSection: string | null = null;
  /** Pixels on screen for each mm that the section being dragged goes along. */
  private readonly way = new THREE.Vector2();
  private pressed: { x: number; y: number } | null = null;
  /** Until the picture is somebody else's. */
  private readonly until = new AbortController();

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly camera: THREE.Camera,
    private readonly stage: Stage,
    private readonly under: UnderPointer,
    private readonly listeners: () => StageListeners,
  ) {
    const { signal } = this.until;
    canvas.addEventListener("pointerdown", this.press, { signal });
    canvas.addEventListener("pointerup", this.release, { signal });
    canvas.addEventListener("pointermove", this.hoverOver, { signal });
    canvas.addEventListener("pointerleave", this.goOut, { signal });
  }

  dispose(): void {
    cancelAnimationFrame(this.pointing);
    this.until.abort();
  }

  /** x, y: where the tag of a section is pulled to, pixels from where it was taken hold of. */
  slide(id: string, phase: "start" | "move" | "end", x: number, y: number, fine: boolean): void {
    if (phase === "start") {
      const section = this.stage.sections.find((s) => s.id === id);
      if (!section) return;
      const here = new THREE.Vector3(...section.origin);
      const there = here.clone().add(new THREE.Vector3(...section.axis));
      const [a, b] = [here, there].map((p) => p.project(this.camera));
      if (!a || !b) return;
      const { clientWidth, clientHeight } = this.canvas;
      this.way.set(((b.x - a.x) / 2) * clientWidth, ((a.y - b.y) / 2) * clientHeight);
      // seen from the end there is no way to drag along
      if (this.way.length() < 0.05) this.way.set(0, 0);
      else this.listeners().slide(id, phase, 1 / this.way.length(), fine);
      return;
    }
    const length = this.way.length();
    if (length) this.listeners().slide(id, phase, (x * this.way.x + y * this.way.y) / length, fine);
  }

  /** Tell what is under the pointer: when it moves, and when what it rests on is another thing than before. */
  readOver(): void {
    if (!this.over || this.pointing) return;
    // a body has thousands of triangles: once a frame is enough
    this.pointing = requestAnimationFrame(() => {
      this.pointing = 0;
      if (!this.over) return;
      if (this.picking) {
        this.listeners().candidate(this.under.namesFor(this.over, this.picking));
        return;
      }
      const hit = this.under.hit(this.over);
      this.listeners().point(hit?.body ?? null, hit ? hit.at.toArray() : [0, 0, 0], hit?.told ?? null);
      const section = this.under.section(this.over);
      if (section !== this.overSection) this.listeners().hover((this.overSection = section));
    });
  }

  private readonly press = (event: PointerEvent): void => {
    this.pressed = { x: event.clientX, y: event.clientY };
  };

  private readonly release = (event: PointerEvent): void => {
    const from = this.pressed;
    this.pressed = null;
    if (!from || Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4) return;
    if (this.picking) {
      const found = this.under.pointedAt(event, this.picking);
      if (found) this.listeners().answer(found);
      return;
    }
    const rail = this.under.rail(event);
    const section = rail ? null : this.under.section(event);
    this.listeners().pick(rail ?? section ?? this.under.hit(event)?.body ?? null);
  };

  private readonly hoverOver = (event: PointerEvent): void => {
    this.over = event.buttons ? null : event;
    this.readOver();
  };

  private readonly goOut = (): void => {
    this.over = null;
    this.listeners().point(null, [0, 0, 0], null);
  };
}
