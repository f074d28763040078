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

/** How hard a body is to turn about axes through its centre, in words: what it weighs times the square of how far away, along x, y and z. */
export function inertiaInWords({ moments, closed }: BodySummary, finish: Finish | null | undefined): string[] {
  const density = finish?.density;
  if (!density || !closed) return [];
  const tell = (value: number) =>
    value >= 1e5 ? `${(value / 1e5).toPrecision(4)} kg·cm²` : `${(value / 100).toPrecision(4)} g·cm²`;
  return moments.map((moment) => tell((moment * density) / 1000));
}

/** What a body weighs, in words; null where it is not known what it is made of, and for a sheet, which has no thickness. */
export function massInWords({ volume, closed }: BodySummary, finish: Finish | null | undefined): string | null {
  if (!finish?.density || !closed) return null;
  return grams((volume / 1000) * finish.density);
}

/** A mass in words. */
export const grams = (mass: number) => (mass >= 1000 ? `${(mass / 1000).toFixed(3)} kg` : `${mass.toFixed(1)} g`);
