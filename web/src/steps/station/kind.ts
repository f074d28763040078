import { lengthNumber } from "../../model/units";
import { beyond, planeOf, spacing } from "../places";
import type { Kind } from "../kind";

export const kind: Kind = {
  name: "station",
  title: "Station",
  result: "station",
  words: () => "",
  glyph: "station",
  choices: (scope) => {
    const { stands, document, keep, name } = scope;
    const place = (plane: string, offset: number) =>
      keep([{ do: "add-step", kind: "station", name: name("Station"), params: { plane, offset } }]);
    const last = stands.at(-1);
    const further = last ? beyond(scope) : 0;
    return [
      {
        verb: "Place",
        title: last
          ? `Station ${lengthNumber(further, document.unit)} ${document.unit} along`
          : "Station seen from the top",
        act: () => place(planeOf(scope, last), further),
        alike: `plane ${spacing(document.unit)}`,
      },
      ...(["top", "front", "side"] as const).map((plane, i) => ({
        verb: "Place" as const,
        title: `Station on the ${plane} plane`,
        act: () => place(plane, 0),
        ...(i === 0 ? { apart: true } : {}),
      })),
    ];
  },
  leave: () => ["plane", "place"],
};
