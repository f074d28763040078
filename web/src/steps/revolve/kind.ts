import { trimmed } from "../../model/units";
import { ofSection, sectionIn } from "../areas";
import type { Kind } from "../kind";
import { asResult, MAKES, resultWords } from "../result";

export const kind: Kind = {
  name: "revolve",
  title: "Revolve",
  result: "body",
  words: (step, status, names) => {
    const angle = status?.values?.["angle"] ?? step.params["angle"] ?? 360;
    const turned = typeof angle === "number" && angle !== 360 ? ` by ${trimmed(angle, 1)}°` : "";
    return `revolve of ${names(sectionIn(step))}${turned}${resultWords(step, names)}`;
  },
  choices: (scope) => {
    const { section, title, disabled } = ofSection(scope, "Revolve");
    const outline = scope.outline.loose.concat(scope.outline.groups.flatMap((g) => g.stands));
    const points = outline.find((stand) => stand.section === section)?.outline ?? [];
    // beside the drawing, so that there is something to see at once
    const left = points.length ? Math.min(...points.map((p) => p[0])) : 0;
    const point = left < 0 && points.some((p) => p[0] > 0) ? [Math.round(left * 100) / 100, 0] : [0, 0];
    const params = { section: { step: section }, point, ...asResult(scope.makes) };
    return [
      {
        verb: "Shape",
        title,
        disabled,
        keys: "s r",
        alike: "lathe turn spin torus axis",
        act: () => scope.keep([{ do: "add-step", kind: "revolve", name: scope.name("Revolve"), params }]),
      },
    ];
  },
  ways: { result: MAKES },
};
