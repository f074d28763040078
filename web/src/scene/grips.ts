import { Vector3, type Camera } from "three";

type Spot = readonly [number, number, number];

/** Something that can be pulled about in space. from: the place it is tied to by a line. */
export interface Grip {
  id: string;
  label: string;
  at: Spot;
  kind: "point" | "handle" | "start" | "tie";
  from?: Spot;
  /** Where an arrow from it points. */
  towards?: Spot;
}

/** Where the pointer is on the scene, and in space at the depth of the grip. */
export interface Pulled {
  x: number;
  y: number;
  there: Spot;
}

export type Pull = (id: string, phase: "start" | "move" | "end" | "pick", pulled: Pulled | null) => void;

/** The head of an arrow, at the end that a line is drawn from. */
const ARROW =
  '<defs><marker id="scene-way" viewBox="0 0 8 8" refX="1" refY="4" markerWidth="8" markerHeight="8" orient="auto"><path d="M8 0L1 4L8 8" /></marker></defs>';
const SVG = "http://www.w3.org/2000/svg";
const spot = new Vector3();

/** Grips on the points of a rail and on its handles, over the picture. */
export class Grips {
  private readonly layer = document.createElement("div");
  private readonly lines = document.createElementNS(SVG, "svg");
  private grips: Grip[] = [];
  private camera: Camera | null = null;
  private size = { width: 1, height: 1 };
  private readonly buttons = new Map<string, { button: HTMLButtonElement; tie: SVGLineElement }>();

  constructor(
    private readonly container: HTMLElement,
    private readonly pull: Pull,
  ) {
    this.layer.className = "scene-grips";
    this.lines.setAttribute("aria-hidden", "true");
    this.lines.innerHTML = ARROW;
    this.layer.append(this.lines);
    container.append(this.layer);
  }

  set(grips: Grip[]): void {
    this.grips = grips;
    const present = new Set(grips.map((grip) => grip.id));
    for (const [id, { button, tie }] of this.buttons)
      if (!present.has(id)) {
        button.remove();
        tie.remove();
        this.buttons.delete(id);
      }
    for (const grip of grips) {
      const { button, tie } = this.buttons.get(grip.id) ?? this.create(grip.id);
      button.className = grip.kind;
      button.setAttribute("aria-label", grip.label);
      button.title = grip.label;
      tie.style.display = (grip.from ?? grip.towards) ? "" : "none";
      if (grip.towards) tie.setAttribute("marker-start", "url(#scene-way)");
      else tie.removeAttribute("marker-start");
    }
  }

  place(camera: Camera, width: number, height: number): void {
    this.camera = camera;
    this.size = { width, height };
    if (!this.grips.length) return;
    this.lines.setAttribute("viewBox", `0 0 ${width} ${height}`);
    for (const grip of this.grips) {
      const made = this.buttons.get(grip.id);
      if (!made) continue;
      const [x, y] = this.onScreen(grip.at);
      made.button.style.transform = `translate(${x}px, ${y}px) translate(-50%, -50%)`;
      const other = grip.from ?? grip.towards;
      if (!other) continue;
      const [fx, fy] = this.onScreen(other);
      for (const [name, value] of Object.entries({ x1: fx, y1: fy, x2: x, y2: y }))
        made.tie.setAttribute(name, String(value));
    }
  }

  /** Pixels in the scene at which a place in space is seen. */
  onScreen(at: Spot): [number, number] {
    if (!this.camera) return [0, 0];
    spot.set(at[0], at[1], at[2]).project(this.camera);
    return [((spot.x + 1) / 2) * this.size.width, ((1 - spot.y) / 2) * this.size.height];
  }

  dispose(): void {
    this.layer.remove();
  }

  private pulled(event: PointerEvent, at: Spot): Pulled {
    const bounds = this.container.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    if (!this.camera) return { x, y, there: at };
    const depth = spot.set(at[0], at[1], at[2]).project(this.camera).z;
    spot.set((x / this.size.width) * 2 - 1, 1 - (y / this.size.height) * 2, depth).unproject(this.camera);
    return { x, y, there: [spot.x, spot.y, spot.z] };
  }

  private create(id: string) {
    const button = document.createElement("button");
    button.type = "button";
    let held: { at: Spot; x: number; y: number; moved: boolean } | null = null;
    button.onpointerdown = (event) => {
      const grip = this.grips.find((g) => g.id === id);
      if (event.button !== 0 || !grip) return;
      held = { at: grip.at, x: event.clientX, y: event.clientY, moved: false };
      button.setPointerCapture(event.pointerId);
    };
    button.onpointermove = (event) => {
      if (!held) return;
      if (!held.moved) {
        if (Math.hypot(event.clientX - held.x, event.clientY - held.y) < 3) return;
        held.moved = true;
        this.pull(id, "start", this.pulled(event, held.at));
      }
      this.pull(id, "move", this.pulled(event, held.at));
    };
    button.onlostpointercapture = () => {
      if (held?.moved) this.pull(id, "end", null);
      held = null;
    };
    button.onclick = () => this.pull(id, "pick", null);
    const tie = document.createElementNS(SVG, "line");
    this.layer.append(button);
    this.lines.append(tie);
    const made = { button, tie };
    this.buttons.set(id, made);
    return made;
  }
}
