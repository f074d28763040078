import { lengthNumber } from "../../model/units";
import { bodyIn, toBody } from "../bodies";
import type { Kind, Way } from "../kind";

const WAYS: Way[] = [
  { value: "place", title: "A place along it", start: () => ({ type: "place", at: 0 }) },
  {
    value: "station",
    title: "A station",
    start: ({ earlier }) => ({ type: "station", station: { step: earlier("station").at(-1)?.id ?? "" }, past: 0 }),
  },
];

const tidy = (mm: number): number => Math.max(0.1, Number(mm.toPrecision(2)));

export const kind: Kind = {
  name: "band",
  title: "Ridge or groove",
  result: "body",
  words: (step, status, names, { unit }) => {
    const height = status?.values?.["height"] ?? step.params["height"] ?? 2;
    const high = typeof height === "number" ? ` ${lengthNumber(Math.abs(height), unit)} high` : "";
    const word = typeof height === "number" && height < 0 ? "groove" : "ridge";
    return `${word}${word === "groove" ? high.replace("high", "deep") : high} round ${names(bodyIn(step))}`;
  },
  leave: () => ["body"],
  ways: { first: WAYS, last: WAYS },
  choices: (scope) => {
    const summary = scope.body && scope.statuses[scope.body.id]?.summary;
    return [
      toBody(
        scope,
        "band",
        {
          title: (body) => `Run a ridge or groove round ${body}`,
          name: "Ridge",
          keys: "f g",
          alike: "band bead rib ring indent push bulge",
        },
        () => {
          if (summary?.result !== "body") return { first: { type: "place", at: 0 }, last: { type: "place", at: 20 } };
          const along = (place: readonly number[]) => place.reduce((sum, x, i) => sum + x * (summary.axis[i] ?? 0), 0);
          const [a, b] = [along(summary.low), along(summary.high)];
          const [low, long] = [Math.min(a, b), Math.abs(b - a)];
          return {
            first: { type: "place", at: tidy(low + 0.4 * long) },
            last: { type: "place", at: tidy(low + 0.6 * long) },
            height: tidy(0.01 * long),
            shoulder: tidy(0.05 * long),
          };
        },
      ),
    ];
  },
};
