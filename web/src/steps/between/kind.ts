import { sectionIn } from "../areas";
import type { Kind, Scope } from "../kind";
import { gives } from "../registry";
import { asResult, MAKES, resultWords } from "../result";

export const kind: Kind = {
  name: "between",
  title: "Between rails",
  result: "body",
  words: (step, _, names) => {
    const rail = (path: string) => names((step.params[path] as { step?: string } | undefined)?.step ?? "");
    return `${names(sectionIn(step))} between ${rail("first")} and ${rail("second")}${resultWords(step, names)}`;
  },
  laws: ({ params }) => (params["grows"] === "width" ? ["height"] : []),
  choices: (scope) => [between(scope)],
  leave: ({ params }) => [
    ...["pairing", "grows", "height"],
    ...(params["kept"] === "simplified" ? [] : ["within"]),
    ...(params["pairing"] === "spine" ? ["begin", "start", "against"] : ["spine"]),
    ...(params["stands"] === "feet" ? [] : ["left", "right"]),
  ],
  ways: { result: MAKES },
};

/** The selected section, else the last free one, between the last two rails. */
function between({ document, outline, selected, keep, name, makes }: Scope) {
  const loose = outline.loose.at(-1)?.section;
  const section = selected && gives(selected, "section") ? selected : document.steps.find((step) => step.id === loose);
  const [first, second] = outline.rails.slice(-2);
  const missing = section ? (second ? undefined : "needs two rails") : "needs a section";
  return {
    verb: "Shape" as const,
    title:
      section && first && second
        ? `${section.name} between ${first.name} and ${second.name}`
        : "A section between two rails",
    disabled: missing,
    keys: "s b",
    alike: "sweep two rails frame moulding coaming guide",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "between",
          name: name("Between"),
          params: {
            section: { step: section?.id ?? "" },
            first: { step: first?.id ?? "" },
            second: { step: second?.id ?? "" },
            ...asResult(makes),
          },
        },
      ]),
  };
}
