import type { DesignDocument, Edit, Step } from "../api/types";
import type { Built } from "../api/built";
import { broughtBefore } from "../model/order";
import { stationOf } from "../model/outline";
import type { Picking } from "../model/place";
import { bodyIn } from "../steps/bodies";
import { gives } from "../steps/registry";

/** Something in the scene or in the Build that was pointed at. at: a place on it, mm. */
export interface Pointed {
  step: string;
  part?: string;
  at?: readonly [number, number, number];
}

export interface Reference {
  step: string;
  part?: string | null;
  hint?: number[] | null;
}

export function valueAtPath(step: Step, path: readonly (string | number)[]): unknown {
  let here: unknown = step.params;
  for (const part of path) here = (here as Record<string | number, unknown> | undefined)?.[part];
  return here;
}

/** A pick on another body than those before goes where the next ones are asked for: it is the other end that is meant. */
export function directed(picking: Picking, pointed: Pointed, { steps }: DesignDocument): Picking {
  const { then, ...rest } = picking;
  const asking = steps.find((step) => step.id === picking.step);
  if (!then || !asking) return picking;
  const [first] = (valueAtPath(asking, picking.path) ?? []) as Reference[];
  return first && first.step !== pointed.step ? { ...rest, path: then.path } : picking;
}

/** The edits that put what was pointed at where it was asked for; none where it does not fit. */
export function answered(
  picking: Picking,
  pointed: Pointed,
  { steps }: DesignDocument,
  statuses: Built["steps"],
): Edit[] {
  const asking = steps.find((step) => step.id === picking.step);
  const target = meant(picking, pointed, steps);
  if (!asking || !target || !fits(picking, target, steps)) return [];
  const reference = referenceTo(picking, pointed, target, statuses);
  if (picking.what === "spot")
    return reference?.hint ? [{ do: "set-param", step: asking.id, path: picking.path, value: reference.hint }] : [];
  if (!reference) return [];
  const before = broughtBefore(asking.id, target.id, steps) ?? [];
  if (!picking.many) return [...before, { do: "set-param", step: asking.id, path: picking.path, value: reference }];
  const list = (valueAtPath(asking, picking.path) ?? []) as Reference[];
  const left = list.filter((item) => item.step !== target.id || (item.part ?? null) !== (reference.part ?? null));
  // one too many takes the place of the last
  const next = left.length < list.length ? left : [...list.slice(0, (picking.most ?? Infinity) - 1), reference];
  // the last edge or face can be taken out again; whole bodies are joined with one at least
  const kept = next.length > 0 || isPart(picking.what);
  return kept ? [...before, { do: "set-param", step: asking.id, path: picking.path, value: next }] : [];
}

/** The step that is meant: the station under a section where a station is asked for, and of what a step makes of a body that body itself. */
function meant({ what, step: asking }: Picking, { step, part }: Pointed, steps: readonly Step[]): Step | undefined {
  const found = steps.find((s) => s.id === step);
  if (what === "spot") {
    // a place on what the step leaves is one on the body as it was
    const own = steps.find((s) => s.id === asking);
    const base = own && bodyIn(own);
    return step === asking || step === base ? steps.find((s) => s.id === base) : undefined;
  }
  if (found && found.id === asking && isPart(what)) {
    // faces and edges that it leaves keep their names; its own ones come too late
    return part?.includes(`${asking}/`) ? undefined : steps.find((s) => s.id === bodyIn(found));
  }
  if (what === "station" && found && gives(found, "section")) return steps.find((s) => s.id === stationOf(found));
  return found;
}

const isPart = (what: Picking["what"]): what is "face" | "edge" | "part" =>
  what === "face" || what === "edge" || what === "part";

/** Something on a body, or a place of it: never a whole step. */
export const isOnBody = (what: Picking["what"]): what is "face" | "edge" | "part" | "spot" =>
  isPart(what) || what === "spot";

/** A step may only use what is made before it; a rail that needs nothing of it can be brought there. */
function fits({ what, step, whole }: Picking, target: Step, steps: readonly Step[]): boolean {
  const does = gives(target, isOnBody(what) ? "body" : what) || (whole === true && gives(target, "reference"));
  if (!does) return false;
  const moves = broughtBefore(step, target.id, steps);
  return moves !== null && (moves.length === 0 || what === "rail");
}

function referenceTo(
  { what, whole }: Picking,
  { part, at }: Pointed,
  target: Step,
  statuses: Built["steps"],
): Reference | null {
  if (!isOnBody(what)) return { step: target.id };
  // a mesh has no parts
  if (whole && (!part || gives(target, "reference"))) return { step: target.id };
  if (!part) return null;
  const summary = statuses[target.id]?.summary;
  if (!at || summary?.result !== "body") return { step: target.id, part };
  // where in the box of the body it is: it stays there when the body moves or grows
  const hint = at.map((value, i) => {
    const [low, high] = [summary.low[i] ?? 0, summary.high[i] ?? 1];
    return Math.round(((value - low) / Math.max(high - low, 1e-9)) * 1e6) / 1e6;
  });
  return { step: target.id, part, hint };
}

/** Whether a step could be the answer. */
export function couldBe(picking: Picking | null, step: Step, { steps }: DesignDocument): boolean {
  if (!picking) return false;
  const target = meant(picking, { step: step.id }, steps);
  return target !== undefined && (!isOnBody(picking.what) || picking.whole === true) && fits(picking, target, steps);
}
