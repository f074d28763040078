import type { Field, Texts, Typed } from "../../sheet/useTyped";
import type { Act, Drawn, XY } from "../drawing";
import type { Spot } from "../snap";

/** A number that can be typed for a tool. from: how many picks there have to be before it is the one that digits go to. */
export interface ToolField extends Field {
  from?: number;
}

/** Something the hand does on the sheet: a few picks, numbers typed meanwhile, and what these make. */
export interface Tool {
  id: string;
  title: string;
  group: "draw" | "change";
  /** What the next pick is for, by how many there are; the last for all that follow. */
  asks: readonly string[];
  fields?: ToolField[];
  /** The acts that these picks ask for, or null while more are needed. done: Enter or a double click ended it. */
  make: (picks: readonly Spot[], typed: Typed, drawn: Drawn, done: boolean) => Act[] | null;
  /** Picks that the next one goes on from: a chain. */
  goesOn?: boolean;
  /** It works on corners: on those that are picked already, too. */
  corners?: boolean;
  /** With a number typed an arrow key says which way it goes: level or upright. */
  aims?: boolean;
  /** What would be drawn if the pointer were picked: a path in mm. */
  ghost?: (picks: readonly Spot[], pointer: XY, typed: Typed, drawn: Drawn) => string;
  /** What its numbers come to where the pointer is, mm or degrees, by field. */
  reads?: (picks: readonly Spot[], pointer: XY, drawn: Drawn) => Readonly<Partial<Record<string, number>>>;
}

/** Where the next place is, as numbers: for whoever does not point at it. */
export const PLACE: readonly ToolField[] = [
  { name: "x", title: "x", kind: "length" },
  { name: "y", title: "y", kind: "length" },
];

const NONE: readonly ToolField[] = [];

/** The numbers that can be typed now, first the one that digits go to. made: how many picks; once there are all, it begins anew. */
export function fieldsOf(tool: Tool, made: number): readonly ToolField[] {
  const picks = tool.goesOn || made < tool.asks.length ? made : 0;
  const own = tool.fields ?? NONE;
  const ready = own
    .filter(({ from }) => from !== undefined && from <= picks)
    .toSorted((a, b) => (b.from ?? 0) - (a.from ?? 0));
  const rest = own.filter((field) => !ready.includes(field));
  return tool.group === "draw" ? [...ready, ...PLACE, ...rest] : [...ready, ...rest];
}

/** A pick at the place that was typed: what was met there by the hand is no part of it. */
export function placedBy(spot: Spot, { x, y }: Typed): Spot {
  if (x?.worth == null && y?.worth == null) return spot;
  const at: XY = [x?.worth ?? spot.at[0], y?.worth ?? spot.at[1]];
  return { at, way: "typed", ...(x && y ? { fixed: true } : {}) };
}

/** The numbers that stay for the next pick: of a place nothing does. */
export function lasting(texts: Texts): Texts {
  return Object.fromEntries(Object.entries(texts).filter(([name]) => !PLACE.some((field) => field.name === name)));
}
