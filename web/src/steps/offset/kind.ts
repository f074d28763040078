import { lengthNumber } from "../../model/units";
import { bodyIn, thenPicking, toBody } from "../bodies";
import type { Kind } from "../kind";

export const kind: Kind = {
  name: "offset",
  title: "Offset",
  result: "body",
  words: (step, status, names, { unit }) => {
    const distance = status?.values?.["distance"] ?? step.params["distance"] ?? 2;
    const faces = (step.params["faces"] as unknown[] | undefined)?.length ?? 0;
    const which =
      faces === 0 ? names(bodyIn(step)) : `${faces === 1 ? "a face" : `${faces} faces`} of ${names(bodyIn(step))}`;
    if (distance === 0) return `a copy of ${which} as a sheet`;
    return `a sheet ${typeof distance === "number" ? lengthNumber(distance, unit) : "some way"} from ${which}`;
  },
  choices: (scope) => {
    const choice = toBody(
      scope,
      "offset",
      {
        title: (body) => `Offset faces of ${body} to a sheet`,
        name: "Offset",
        keys: "f d",
        alike: "parallel surface copy faces distance extract skin",
      },
      () => ({ distance: 2, faces: [] }),
    );
    return [thenPicking(choice, scope, "offset", { path: ["faces"], what: "face" })];
  },
};
