import type { Step } from "../api/types";
import { bodyIn, onCopies, thenPicking, toBody } from "./bodies";
import type { Choice, Scope } from "./kind";

interface Meant {
  edges?: unknown[];
  faces?: unknown[];
  among?: string;
  copies?: boolean;
}

const OF_A_KIND: Record<string, string> = {
  outer: "outer edges",
  inner: "inner edges",
  meeting: "edges where its parts meet",
};

/** How a step that rounds or cuts edges reads: which, of what, and by how much where all get the same. */
export function blendWords<Set extends object>(
  step: Step,
  names: (step: string) => string,
  done: string,
  size: (set: Set, path: string) => string,
): string {
  const sets = (step.params["sets"] ?? []) as (Set & Meant)[];
  const body = names(bodyIn(step));
  const [first] = sets;
  if (!first) return body;
  if (sets.length > 1) return `${sets.length} sets of edges of ${body} ${done}`;
  const picked = (first.edges?.length ?? 0) + (first.faces?.length ?? 0);
  if (!picked && !OF_A_KIND[first.among ?? ""]) return `no edges of ${body} yet`;
  const some = `${picked === 1 ? "an edge" : `${picked} edges`}${first.copies ? ", on every copy," : ""}`;
  const which = OF_A_KIND[first.among ?? ""] ?? some;
  return `${which} of ${body} ${done} ${size(first, "sets.0")}`.trimEnd();
}

/** A step that does something to edges of the body that is meant, which are picked next. */
export function blendOf(
  scope: Scope,
  kind: string,
  words: Parameters<typeof toBody>[2],
  begin: Record<string, unknown>,
): Choice {
  const choice = toBody(scope, kind, words, (body) => ({
    sets: [{ edges: [], ...begin, ...onCopies(scope.statuses[body.id]) }],
  }));
  return thenPicking(choice, scope, kind, { path: ["sets", 0, "edges"], what: "edge" });
}
