import type { Built } from "../api/built";
import type { BodySummary, Finish, Material, Step } from "../api/types";

/** The finish of a body: its own; one that was changed keeps the one that it had. */
export function finishOf(step: Step, steps: readonly Step[], statuses: Built["steps"]): Finish | null {
  const changed = step.finish ? undefined : steps.find(({ id }) => id === statuses[step.id]?.changes?.[0]);
  return step.finish ?? (changed ? finishOf(changed, steps, statuses) : null);
}

/** How a body looks: as was chosen, else as its material does. */
export function lookOf(
  finish: Finish | null,
  materials: readonly Material[],
): { colour: string | null; gloss: number } {
  const own = materials.find(({ name }) => name === finish?.material)?.colour ?? null;
  return { colour: finish?.colour ?? own, gloss: finish?.gloss ?? 0.5 };
}

/** What a body weighs, in words; null where it is not known what it is made of, and for a sheet, which has no thickness. */
export function massInWords({ volume, closed }: BodySummary, finish: Finish | null | undefined): string | null {
  if (!finish?.density || !closed) return null;
  const grams = (volume / 1000) * finish.density;
  return grams >= 1000 ? `${(grams / 1000).toFixed(3)} kg` : `${grams.toFixed(1)} g`;
}
