import type { Query, QueryClient } from "@tanstack/react-query";
import { createStore } from "zustand/vanilla";
import { NOTHING_BUILT, type Built } from "./built";
import { Unreached } from "./problems";
import { queries } from "./queries";
import { socketOf } from "./socket";
import type { Design, Edit, LiveEvent, PreviewRequest } from "./types";

const PATIENCE = 400;
/** Length of a mesh's key, which stands before its data. */
const KEY = 32;
/** What is told within so many ms of each other reaches the screen in one go. */
const GATHER = 150;
/** The same while a drawing is being pulled about: the drawing itself has to follow. */
const HURRIED = 8;
/** What is kept waits so long for its shape, ms. */
const MOMENT = 80;

/** What something is shown on: an undo comes back to a revision, but as another head of the design than before. */
type Base = Pick<Design, "revision" | "changed">;

/** What is to be shown. */
interface Wanted {
  base: Base;
  edits: Edit[];
}

/**
 * The live channel of one design: how it stands is in `built`, a new head goes into the query cache, previews go up.
 * Only one preview is under way at a time; while it is, only the newest of the others is kept.
 */
export class LiveChannel {
  readonly built = createStore<Built>(() => NOTHING_BUILT);
  private socket: WebSocket | null = null;
  private closed = false;
  private attempts = 0;
  private number = 0;
  private underWay: { number: number; since: number } | null = null;
  private awaited: () => void = () => undefined;
  private combed = "";
  private next: Wanted | null = null;
  /** What the hand does at the moment. */
  private held: Wanted | null = null;
  private outdoneBy = "";
  /** The preview that the lines of a drawing were last told of, by step. */
  private readonly pens = new Map<string, number>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private gathered: ((built: Built) => Built)[] = [];
  private gather = GATHER;
  private gathering: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly design: string,
    private readonly cache: QueryClient,
    /** Told of every mesh as soon as it is known, before anything is drawn; with its data where they came along. */
    private readonly coming: (mesh: string, data?: ArrayBuffer) => void,
  ) {}

  open(): void {
    this.closed = false;
    this.connect();
  }

  /** Show what the edits of a hand would give, until it lets go, on whatever is kept by then. No edits at all: back to what is kept. */
  preview(base: Base, edits: Edit[]): void {
    this.held = edits.length ? { base, edits } : null;
    this.show(base, edits);
  }

  /** The hand has let go: what it did is kept from now on, or not. */
  letGo(): void {
    this.held = null;
  }

  /** Show what edits would give that are about to be kept. */
  show(base: Base, edits: Edit[]): void {
    this.next = { base, edits };
    this.pump();
  }

  /** Until the preview that is under way has its shape, or for a moment: what is seen first is not held up by what has to be kept. */
  shaped(): Promise<void> {
    if (!this.underWay) return Promise.resolve();
    return new Promise((done) => {
      const late = setTimeout(done, MOMENT);
      this.awaited = () => {
        clearTimeout(late);
        done();
      };
    });
  }

  /** Whether what is told should reach the screen at once, a step at a time. */
  hurry(on: boolean): void {
    this.gather = on ? HURRIED : GATHER;
  }

  /** The step whose combs are wanted with every preview; empty for none. */
  comb(step: string): void {
    this.combed = step;
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    clearTimeout(this.gathering);
    this.socket?.close();
  }

  private connect(): void {
    const { socket, told } = socketOf(this.design);
    this.socket = socket;
    socket.onopen = () => {
      // what was asked for while the server was away
      if (this.attempts) void this.cache.refetchQueries({ type: "active", predicate: gotNoAnswer });
      this.attempts = 0;
      this.underWay = null;
    };
    const heard = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      if (typeof data === "string") this.hear(JSON.parse(data) as LiveEvent);
      else this.coming(new TextDecoder().decode(data.slice(0, KEY)), data.slice(KEY));
    };
    socket.onmessage = heard;
    socket.onclose = () => {
      if (this.closed) return;
      this.change((built) => ({ ...built, connected: false }));
      this.timer = setTimeout(() => this.connect(), Math.min(200 * 2 ** this.attempts++, 5000));
    };
    told.forEach(heard);
  }

  private pump(): void {
    if (this.next === null || this.socket?.readyState !== WebSocket.OPEN) return;
    const now = performance.now();
    if (this.underWay !== null && now - this.underWay.since < PATIENCE) return;
    const request: PreviewRequest = {
      type: "preview",
      number: ++this.number,
      base_revision: this.next.base.revision,
      since: this.next.base.changed,
      edits: this.next.edits,
      combed: this.combed,
    };
    this.next = null;
    this.underWay = { number: this.number, since: now };
    this.socket.send(JSON.stringify(request));
  }

  private hear(event: LiveEvent): void {
    switch (event.type) {
      case "snapshot":
        this.change(() => ({
          ...NOTHING_BUILT,
          steps: Object.fromEntries(event.steps.map((step) => [step.id, step])),
          solids: Object.fromEntries(event.solids.map((solid) => [solid.step, solid])),
          findings: event.findings,
          standing: event.complete || event.standing.length ? event.standing : null,
          complete: event.complete,
          shown: event.complete ? String(event.revision) : "",
          connected: true,
        }));
        break;
      case "shaped":
        this.coming(event.mesh);
        // the shape goes on screen at once, whatever else is being gathered
        this.built.setState((built) => ({ shapes: { ...built.shapes, [event.step]: event.mesh } }));
        // so may the next one: the server tells numbers now and then in between
        this.answered(event.preview);
        this.pump();
        break;
      case "penned":
        this.pens.set(event.step, event.preview);
        this.built.setState((built) => ({ lines: { ...built.lines, [event.step]: event.lines } }));
        this.answered(event.preview);
        this.pump();
        break;
      case "combed":
        this.built.setState((built) => ({ combs: { ...built.combs, [event.step]: event.combs } }));
        break;
      case "step":
        if (event.step.mesh) this.coming(event.step.mesh);
        this.changeSoon((built) => {
          const before = built.steps[event.step.id];
          const lastGood = event.step.mesh === null ? (before?.mesh ?? before?.last_good ?? null) : null;
          const step = { ...event.step, last_good: event.step.last_good ?? lastGood };
          // the lines of a newer preview may be there before what an older one comes to
          const behind = event.preview !== null && event.preview < (this.pens.get(step.id) ?? 0);
          return {
            ...built,
            shapes: without(built.shapes, step.id),
            lines: behind ? built.lines : without(built.lines, step.id),
            steps: { ...built.steps, [step.id]: step },
          };
        });
        break;
      case "working":
        this.changeSoon((built) => ({
          ...built,
          working: { step: event.step, since: performance.now() - event.seconds * 1000 },
          complete: false,
        }));
        break;
      case "done":
        this.answered(event.preview);
        this.change((built) => ({
          ...built,
          working: null,
          complete: event.exact,
          standing: event.standing,
          shown: `${event.revision}${event.preview === null ? (event.exact ? "" : "≈") : "~"}`,
          findings: event.preview === null ? event.findings : built.findings,
        }));
        if (event.preview === null) this.outdone(`${event.revision} ${event.exact}`);
        this.pump();
        break;
      case "solid":
        this.change((built) => ({ ...built, solids: { ...built.solids, [event.step]: event } }));
        break;
      case "revised":
        this.revised(event as unknown as Design);
        break;
      case "preview-refused":
        this.answered(event.preview);
        this.pump();
        break;
    }
  }

  /** What is kept was worked out beside what the hand does, and is on screen in its place: that comes back, once for each. */
  private outdone(by: string): void {
    if (!this.held || by === this.outdoneBy) return;
    this.outdoneBy = by;
    this.show(this.held.base, this.held.edits);
  }

  private answered(preview: number | null): void {
    if (preview === null || preview !== this.underWay?.number) return;
    this.underWay = null;
    this.awaited();
  }

  private revised(told: Omit<Design, "id">): void {
    const { queryKey } = queries.head(this.design);
    this.cache.setQueryData(queryKey, {
      id: this.design,
      revision: told.revision,
      undo: told.undo,
      redo: told.redo,
      changed: told.changed,
      document: told.document,
    });
    if (this.held && this.held.base.changed < told.changed) {
      // what was shown was shown on what was kept before, or is not going to be
      this.held = { ...this.held, base: told };
      this.underWay = null;
      this.show(this.held.base, this.held.edits);
    }
    const present = new Set(told.document.steps.map((step) => step.id));
    this.change((built) => ({
      ...built,
      steps: Object.fromEntries(Object.entries(built.steps).filter(([id]) => present.has(id))),
      shapes: Object.fromEntries(Object.entries(built.shapes).filter(([id]) => present.has(id))),
      lines: Object.fromEntries(Object.entries(built.lines).filter(([id]) => present.has(id))),
    }));
  }

  private changeSoon(how: (built: Built) => Built): void {
    this.gathered.push(how);
    this.gathering ??= setTimeout(() => this.change((built) => built), this.gather);
  }

  private change(how: (built: Built) => Built): void {
    clearTimeout(this.gathering);
    this.gathering = undefined;
    const all = [...this.gathered, how];
    this.gathered = [];
    this.built.setState((built) => all.reduce((now, next) => next(now), built), true);
  }
}

function without<T>(all: Readonly<Record<string, T>>, gone: string): Readonly<Record<string, T>> {
  return gone in all ? Object.fromEntries(Object.entries(all).filter(([id]) => id !== gone)) : all;
}

const gotNoAnswer = ({ state }: Query): boolean => state.error instanceof Unreached;
