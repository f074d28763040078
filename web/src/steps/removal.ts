import type { Built } from "../api/built";
import type { DesignDocument, Edit, Step } from "../api/types";
import { refersTo } from "../model/order";
import { stationOf } from "../model/outline";
import { gives, kindOf } from "./registry";

/** Steps that can't do without this one, in their order. What changed a body hands it through: what uses it goes on with that. */
export function dependents({ steps }: DesignDocument, step: Step, changes: readonly string[]): Step[] {
  if (changes.length) return [];
  const gone = new Set([step.id]);
  const found: Step[] = [];
  for (const other of steps) {
    if (gone.has(other.id) || !refersTo(other.params, gone) || kindOf(other).without?.(other, gone, {})) continue;
    gone.add(other.id);
    found.push(other);
  }
  return found;
}

/** The edits that remove a step: what can do without it does, a station that only this section stood on goes with it. now: how steps stand. */
export function removal(
  document: DesignDocument,
  step: Step,
  withFollowers: boolean,
  changes: readonly string[],
  now: Built["steps"],
): Edit[] {
  const gone = [step, ...(withFollowers ? dependents(document, step, changes) : [])];
  const ids = new Set(gone.map((s) => s.id));
  const others = document.steps.filter((s) => !ids.has(s.id));
  const edits: Edit[] = changes.length ? [] : others.flatMap((s) => kindOf(s).without?.(s, ids, now) ?? []);
  edits.push(...gone.toReversed().map((s): Edit => ({ do: "remove-step", step: s.id })));
  const station = gives(step, "section") ? stationOf(step) : "";
  const shared = others.some((s) => refersTo(s.params, new Set([station])));
  if (station && !shared) edits.push({ do: "remove-step", step: station });
  return edits;
}
