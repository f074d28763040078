import { lengthNumber } from "../../model/units";
import { ofSection, sectionIn } from "../areas";
import type { Kind } from "../kind";
import { asResult, MAKES, resultWords } from "../result";

/** Of the ends, where they are cut. */
const ANGLES = ["far_across", "far_upwards", "near_across", "near_upwards"];

export const kind: Kind = {
  name: "extrude",
  title: "Extrude",
  result: "body",
  words: (step, status, names, { unit }) => {
    const distance = status?.values?.["distance"] ?? step.params["distance"];
    const far = typeof distance === "number" ? ` by ${lengthNumber(distance, unit)}` : "";
    return `extrude of ${names(sectionIn(step))}${far}${resultWords(step, names)}`;
  },
  choices: (scope) => {
    const { section, title, disabled } = ofSection(scope, "Extrude");
    const params = { section: { step: section }, distance: 20, ...asResult(scope.makes) };
    return [
      {
        verb: "Shape",
        title,
        disabled,
        apart: true,
        keys: "s e",
        alike: "pull push thicken boss hole prism moulding length mitre",
        act: () => scope.keep([{ do: "add-step", kind: "extrude", name: scope.name("Extrude"), params }]),
      },
    ];
  },
  leave: ({ params }) => ["ends", ...(params["ends"] === "cut" ? [] : ANGLES)],
  ways: { result: MAKES },
};
