import type { Pointed } from "../picking/answer";
import type { Pull } from "./grips";
import type { MapScale } from "./maps";

/** What the scene tells of the hand. */
export interface StageListeners {
  pick: (id: string | null) => void;
  hover: (id: string | null) => void;
  viewed: (view: View) => void;
  /** A section is dragged along its body. At the start `amount` is mm for each pixel, then the way in pixels. */
  slide: (id: string, phase: "start" | "move" | "end", amount: number, fine: boolean) => void;
  /** A grip is pulled about. */
  pull: Pull;
  /** Something was picked that a parameter waits for; null: nothing that would do is there. */
  answer: (pointed: Pointed) => void;
  /** What would be picked here, to be lit. */
  candidate: (names: string[]) => void;
  /** A place on a body is pointed at, mm, and what its colours tell there, where they do; null: none. */
  point: (body: string | null, at: readonly [number, number, number], told: number | null) => void;
  /** What colours tell; null: nothing. */
  scaled: (scale: MapScale | null) => void;
}

/** Camera position and target, mm. */
export interface View {
  position: number[];
  target: number[];
}
