import type { FloorContext } from "../floor/context";
import type { Built } from "../api/built";
import type { DesignDocument, Edit, Step, StepStatus } from "../api/types";
import type { LawName } from "../model/laws";
import type { BodyGroup, DesignOutline, Stand } from "../model/outline";

/** What a step can give to later ones. */
export type Result = "station" | "section" | "rail" | "picture" | "body" | "measure" | "reference";

export type Verb = "Place" | "Draw" | "Shape" | "Finish" | "Check";
export const VERBS: readonly Verb[] = ["Place", "Draw", "Shape", "Finish", "Check"];

/** Something a verb can do as things stand. keys: two letters that do it. alike: other words by which people look for it. */
export interface Choice {
  verb: Verb;
  title: string;
  act: () => Promise<unknown>;
  disabled?: string | undefined;
  keys?: string;
  alike?: string;
  /** Begins a group of its own. */
  apart?: boolean;
}

/** Where a new section goes, and what becomes of a new body: chosen at the top of the menus. */
export type Into = { body: string } | "apart";
export type Makes = { type: "new" } | { type: "join" | "cut" | "overlap"; body: string };

/** What a kind of step looks at to say what can be done. */
export interface Scope {
  floor: FloorContext;
  document: DesignDocument;
  outline: DesignOutline;
  statuses: Built["steps"];
  selected: Step | undefined;
  /** The body that is meant: the selected one or the one that holds what is selected, else the last that stands. */
  body: Step | undefined;
  /** The group whose sections are worked on, if sections go into one. */
  group: BodyGroup | undefined;
  /** The sections beside which a new one goes. */
  stands: readonly Stand[];
  into: Into;
  makes: Makes;
  /** Keep edits and select what they made last. */
  keep: (edits: Edit[], board?: boolean) => Promise<void>;
  /** A name that no step has. */
  name: (word: string) => string;
}

/** One way of filling in a parameter that can be of several kinds. */
export interface Way {
  value: string;
  title: string;
  start: (scope: { step: Step; earlier: (result: Result) => Step[] }) => unknown;
}

/** What the front end knows of a kind of step; everything else follows from the schema of its parameters. */
export interface Kind {
  name: string;
  /** Above its name in the sheet. */
  title: string;
  result: Result;
  /** How it reads in the Build, after its name. */
  words: (
    step: Step,
    status: StepStatus | undefined,
    names: (step: string) => string,
    document: DesignDocument,
  ) => string;
  choices?: (scope: Scope) => Choice[];
  /** Parameters that its own sheet or the Run shows. */
  leave?: (step: Step) => string[];
  ways?: Record<string, Way[]>;
  /** Whether it has a row of places that could be made fair. */
  fair?: (step: Step) => boolean;
  /** Whether the board is the place to change it. */
  drawn?: (step: Step) => boolean;
  /** How it does without some of the steps that it names, as it stands now; null: it can't, and goes with them. */
  without?: (step: Step, gone: ReadonlySet<string>, now: Built["steps"]) => Edit[] | null;
  /** What is done when another step is dragged onto it; null: nothing, it has no use for that one. */
  given?: (step: Step, other: Step, steps: readonly Step[]) => Edit[] | null;
  /** The laws that act along it, as parameters of these names, which the Run shows and changes. */
  laws?: (step: Step) => readonly LawName[];
  /** Where a further section goes in, for what is made of a row of them. */
  row?: (step: Step) => { path: string; items: unknown[] };
  /** What stands in the Build before its name. */
  glyph?: string;
}
