import type { BodySummary, Edit, Step } from "../../api/types";

/** A connecting line of a loft: places that belong together, by section, as shares of their outlines. */
export interface Tie {
  places: { section: { step: string }; at: number }[];
}

export const tiesOf = (step: Step): Tie[] => (step.params["ties"] ?? []) as Tie[];

/** What is left of connecting lines when sections go. */
export const tiesWithout = (ties: Tie[], gone: ReadonlySet<string>): Tie[] =>
  ties
    .map(({ places }) => ({ places: places.filter(({ section }) => !gone.has(section.step)) }))
    .filter(({ places }) => places.length);

const withTies = (step: Step, ties: Tie[]): Edit[] => [{ do: "set-param", step: step.id, path: ["ties"], value: ties }];

export const withoutTie = (step: Step, number: number): Edit[] =>
  withTies(
    step,
    tiesOf(step).filter((_, i) => i !== number),
  );

/** A connecting line passes a section elsewhere. */
export function tiedAt(step: Step, number: number, section: string, at: number): Edit[] {
  const ties = tiesOf(step).map((tie, i) =>
    i === number
      ? {
          places: [...tie.places.filter((place) => place.section.step !== section), { section: { step: section }, at }],
        }
      : tie,
  );
  return withTies(step, ties);
}

/** One more, half-way round between those there are and where the outlines begin; where the skin goes by itself, to be pulled elsewhere. */
export function withTie(step: Step, summary: BodySummary): Edit[] {
  const first = (summary.run ?? []).findIndex(({ start }) => typeof start === "number");
  const stand = summary.run?.[first];
  if (!stand) return [];
  const begins = stand.start ?? 0;
  const taken = [0, ...(summary.ties ?? []).map(({ at }) => ((at[first] ?? 0) - begins + 1) % 1)].sort((a, b) => a - b);
  const gaps = taken.map((from, i) => ({ from, gap: (taken[i + 1] ?? 1) - from }));
  const widest = gaps.reduce((best, one) => (one.gap > best.gap + 1e-9 ? one : best));
  const at = Math.round(((begins + widest.from + widest.gap / 2) % 1) * 1e6) / 1e6;
  return withTies(step, [...tiesOf(step), { places: [{ section: { step: stand.section }, at }] }]);
}
