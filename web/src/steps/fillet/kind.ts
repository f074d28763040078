import { blendOf, blendWords } from "../blends";
import { lengthNumber } from "../../model/units";
import type { Kind } from "../kind";

interface FilletSet {
  radius?: number | string;
  along?: { radius: number | string }[];
}

export const kind: Kind = {
  name: "fillet",
  title: "Fillet",
  result: "body",
  words: (step, status, names, { unit }) =>
    blendWords(step, names, "rounded", (set: FilletSet, path) => {
      if (set.along?.length) return "by a radius that changes";
      const radius = status?.values?.[`${path}.radius`] ?? set.radius ?? 2;
      return typeof radius === "number" ? `by ${lengthNumber(radius, unit)}` : "";
    }),
  leave: () => ["sets"],
  choices: (scope) => [
    blendOf(
      scope,
      "fillet",
      {
        title: (body) => `Fillet edges of ${body}`,
        name: "Fillet",
        keys: "f f",
        alike: "round edge radius blend soften smooth corner",
        apart: true,
      },
      { radius: 2 },
    ),
  ],
};
