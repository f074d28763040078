import { Vector3, type Camera } from "three";

/** Something in the scene to take hold of, a numbered section above all. mark: what stands in it. ring: flat points in mm. */
export interface Tag {
  id: string;
  mark: string;
  label: string;
  ring: Float32Array;
}

/** A number that stands in the scene at a place, mm. state: how it stands to what it should be. */
export interface Note {
  id: string;
  text: string;
  at: readonly [number, number, number];
  state: "none" | "hit" | "missed";
}

type Spot = readonly [number, number, number];

const REACH = 44;
const SPACING = 26;
const point = new Vector3();

/** Section numbers beside the body, each with a thin leader to its ring, kept apart from each other. */
export class Tags {
  private readonly layer = document.createElement("div");
  private readonly lines = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  private readonly dots = document.createElementNS("http://www.w3.org/2000/svg", "g");
  private tags: Tag[] = [];
  private buttons = new Map<string, { button: HTMLButtonElement; leader: SVGLineElement }>();
  private lit: readonly Spot[] = [];
  private marked: readonly Spot[] = [];

  private notes = new Map<string, { note: Note; button: HTMLButtonElement }>();

  constructor(
    container: HTMLElement,
    private readonly pick: (id: string) => void,
    private readonly hover: (id: string | null) => void,
    /** A number is dragged: by so many pixels since it was taken hold of. */
    private readonly drag: (id: string, phase: "start" | "move" | "end", x: number, y: number, fine: boolean) => void,
  ) {
    this.layer.className = "scene-tags";
    this.lines.setAttribute("aria-hidden", "true");
    this.lines.append(this.dots);
    this.layer.append(this.lines);
    container.append(this.layer);
  }

  set(tags: Tag[], selected: string | null): void {
    this.tags = tags;
    const present = new Set(tags.map((tag) => tag.id));
    for (const [id, { button, leader }] of this.buttons) {
      if (!present.has(id)) {
        button.remove();
        leader.remove();
        this.buttons.delete(id);
      }
    }
    for (const tag of tags) {
      const { button, leader } = this.buttons.get(tag.id) ?? this.create(tag.id);
      button.textContent = tag.mark;
      button.setAttribute("aria-label", tag.label);
      button.setAttribute("aria-pressed", String(tag.id === selected));
      leader.classList.toggle("chosen", tag.id === selected);
    }
  }

  light(points: readonly Spot[]): void {
    this.lit = points;
  }

  /** Numbers that are measured, each at its place; a click selects what measures it. */
  note(notes: readonly Note[], selected: string | null): void {
    const present = new Set(notes.map(({ id }) => id));
    for (const [id, { button }] of this.notes)
      if (!present.has(id)) {
        button.remove();
        this.notes.delete(id);
      }
    for (const note of notes) {
      const button = this.notes.get(note.id)?.button ?? this.createNote(note.id);
      button.textContent = note.text;
      button.dataset["state"] = note.state;
      button.setAttribute("aria-pressed", String(note.id === selected));
      this.notes.set(note.id, { note, button });
    }
  }

  /** Places of findings that are open: a small light each, whether or not they are pointed at. */
  mark(points: readonly Spot[]): void {
    this.marked = points;
  }

  place(camera: Camera, width: number, height: number): void {
    this.lines.setAttribute("viewBox", `0 0 ${width} ${height}`);
    const placed = this.tags.flatMap((tag) => {
      const anchor = leftmost(tag.ring, camera, width, height);
      return anchor ? [{ tag, ...anchor, label: anchor.y }] : [];
    });
    placed.sort((a, b) => a.y - b.y);
    for (let i = 1; i < placed.length; i++) {
      const [above, here] = [placed[i - 1], placed[i]];
      if (above && here) here.label = Math.max(here.label, above.label + SPACING);
    }
    for (const { tag, x, y, label } of placed) {
      const made = this.buttons.get(tag.id);
      if (!made) continue;
      const left = Math.max(x - REACH, 14);
      made.button.style.transform = `translate(${left}px, ${label}px) translate(-50%, -50%)`;
      made.leader.setAttribute("x1", String(left + 11));
      made.leader.setAttribute("y1", String(label));
      made.leader.setAttribute("x2", String(x - 2));
      made.leader.setAttribute("y2", String(y));
    }
    for (const { note, button } of this.notes.values()) {
      point.set(note.at[0], note.at[1], note.at[2]).project(camera);
      const [x, y] = [((point.x + 1) / 2) * width, ((1 - point.y) / 2) * height];
      button.style.transform = `translate(${x}px, ${y}px) translate(-50%, -50%)`;
      button.style.visibility = point.z > 1 ? "hidden" : "visible";
    }
    this.dots.replaceChildren(
      ...[...this.marked.map((p) => [p, "marked"] as const), ...this.lit.map((p) => [p, "lit"] as const)].map(
        ([p, kind]) => {
          point.set(p[0], p[1], p[2]).project(camera);
          const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
          dot.setAttribute("cx", String(((point.x + 1) / 2) * width));
          dot.setAttribute("cy", String(((1 - point.y) / 2) * height));
          dot.setAttribute("r", kind === "lit" ? "9" : "5");
          dot.setAttribute("class", kind);
          return dot;
        },
      ),
    );
  }

  dispose(): void {
    this.layer.remove();
  }

  private createNote(id: string): HTMLButtonElement {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "scene-note";
    button.onclick = () => this.pick(id);
    button.onpointerenter = () => this.hover(id);
    button.onpointerleave = () => this.hover(null);
    this.layer.append(button);
    return button;
  }

  private create(id: string) {
    const button = document.createElement("button");
    button.type = "button";
    button.onclick = () => this.pick(id);
    let from: { x: number; y: number } | null = null;
    button.onpointerdown = (event) => {
      if (event.button !== 0) return;
      from = { x: event.clientX, y: event.clientY };
      button.setPointerCapture(event.pointerId);
      this.drag(id, "start", 0, 0, false);
    };
    button.onpointermove = (event) => {
      if (from) this.drag(id, "move", event.clientX - from.x, event.clientY - from.y, event.altKey);
    };
    button.onlostpointercapture = () => {
      if (from) this.drag(id, "end", 0, 0, false);
      from = null;
    };
    button.onpointerenter = () => this.hover(id);
    button.onpointerleave = () => this.hover(null);
    const leader = document.createElementNS("http://www.w3.org/2000/svg", "line");
    this.layer.append(button);
    this.lines.append(leader);
    const made = { button, leader };
    this.buttons.set(id, made);
    return made;
  }
}

function leftmost(ring: Float32Array, camera: Camera, width: number, height: number): { x: number; y: number } | null {
  let best: { x: number; y: number } | null = null;
  for (let i = 0; i < ring.length; i += 3) {
    point.set(ring[i] ?? 0, ring[i + 1] ?? 0, ring[i + 2] ?? 0).project(camera);
    if (point.z > 1) continue;
    const x = ((point.x + 1) / 2) * width;
    if (best === null || x < best.x) best = { x, y: ((1 - point.y) / 2) * height };
  }
  return best;
}
