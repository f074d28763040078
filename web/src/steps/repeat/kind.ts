import { bodyIn, toBody } from "../bodies";
import type { Kind, Way } from "../kind";

const WAYS: Way[] = [
  { value: "line", title: "Along a line", start: () => ({ type: "line", by: [40, 0, 0] }) },
  { value: "axis", title: "Round an axis", start: () => ({ type: "axis", axis: "z" }) },
];

export const kind: Kind = {
  name: "repeat",
  title: "Repeat",
  result: "body",
  words: (step, status, names) => {
    const count = String(status?.values?.["count"] ?? step.params["count"] ?? 3);
    const round = (step.params["way"] as { type?: string } | undefined)?.type === "axis";
    return `${names(bodyIn(step))} ${count} times ${round ? "round an axis" : "along a line"}`;
  },
  choices: (scope) => [
    toBody(
      scope,
      "repeat",
      {
        title: (body) => `Repeat ${body} along a line`,
        name: "Repeat",
        keys: "f l",
        alike: "copy row array pattern again",
      },
      (body) => ({ count: 3, way: { type: "line", by: [across(scope.statuses[body.id]), 0, 0] } }),
    ),
    toBody(
      scope,
      "repeat",
      {
        title: (body) => `Repeat ${body} round an axis`,
        name: "Repeat",
        keys: "f r",
        alike: "copy polar circular array pattern again",
      },
      () => ({ count: 6, way: { type: "axis", axis: "z" } }),
    ),
  ],
  ways: { way: WAYS },
};

/** A step that sets the copies side by side with a little air. */
function across(status: { summary?: unknown } | undefined): number {
  const { low, high } = (status?.summary ?? {}) as { low?: number[]; high?: number[] };
  return Math.round(1.25 * ((high?.[0] ?? 32) - (low?.[0] ?? 0)));
}
