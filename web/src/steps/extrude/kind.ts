import { lengthNumber } from "../../model/units";
import { ofSection, sectionIn } from "../areas";
import type { Step } from "../../api/types";
import type { Kind, Way } from "../kind";
import { asResult, MAKES, resultWords } from "../result";

/** Of the ends, where they are cut. */
const ANGLES = ["far_across", "far_upwards", "near_across", "near_upwards"];

const reachIn = (params: Step["params"]) => (params["reach"] as { type?: string } | undefined)?.type;

const REACHES: Way[] = [
  { value: "distance", title: "By its distance", start: () => ({ type: "distance" }) },
  { value: "through", title: "Past the body", start: () => ({ type: "through" }) },
  {
    value: "face",
    title: "To a face",
    start: ({ earlier }) => ({ type: "face", face: { step: earlier("body").at(-1)?.id ?? "" } }),
  },
];

export const kind: Kind = {
  name: "extrude",
  title: "Extrude",
  result: "body",
  words: (step, status, names, { unit }) => {
    const distance = status?.values?.["distance"] ?? step.params["distance"];
    const reach = reachIn(step.params);
    const by = typeof distance === "number" ? ` by ${lengthNumber(distance, unit)}` : "";
    const far = reach === "through" ? " all through" : reach === "face" ? " to a face" : by;
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
  leave: ({ params }) => [
    "ends",
    ...(params["ends"] === "cut" ? [] : ANGLES),
    ...(params["wall"] ? [] : ["wall_lies"]),
    // how far is said elsewhere; the side to which it goes through is that of the distance
    ...(reachIn(params) === "face" ? ["distance"] : []),
  ],
  ways: { result: MAKES, reach: REACHES },
};
