import { lengthNumber } from "../../model/units";
import { blendOf, blendWords } from "../blends";
import type { Kind } from "../kind";

interface ChamferSet {
  distance?: number | string;
}

export const kind: Kind = {
  name: "chamfer",
  title: "Chamfer",
  result: "body",
  words: (step, status, names, { unit }) =>
    blendWords(step, names, "cut off", (set: ChamferSet, path) => {
      const distance = status?.values?.[`${path}.distance`] ?? set.distance ?? 1;
      return typeof distance === "number" ? `by ${lengthNumber(distance, unit)}` : "";
    }),
  leave: () => ["sets"],
  choices: (scope) => [
    blendOf(
      scope,
      "chamfer",
      {
        title: (body) => `Chamfer edges of ${body}`,
        name: "Chamfer",
        keys: "f h",
        alike: "bevel cut off corner slant edge break",
      },
      { distance: 1 },
    ),
  ],
};
