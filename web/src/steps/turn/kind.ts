import { broughtBefore } from "../../model/order";
import type { Kind, Scope } from "../kind";
import { gives } from "../registry";
import { asResult, MAKES, resultWords } from "../result";

export const kind: Kind = {
  name: "turn",
  title: "Turned rail",
  result: "body",
  words: (step, _, names) => {
    const named = (path: string) => names((step.params[path] as { step?: string } | undefined)?.step ?? "");
    const ends = ["first", "second"].filter((end) => step.params[end]).map(named);
    const along = ends.length ? `, along ${ends.join(" and ")}` : "";
    return `${named("rail")} turned round ${String(step.params["axis"] ?? "z")}${along}${resultWords(step, names)}`;
  },
  choices: (scope) => [turn(scope)],
  ways: { result: MAKES },
  given: (step, other, steps) => {
    if (!gives(other, "rail")) return null;
    const moves = broughtBefore(step.id, other.id, steps);
    return moves && [...moves, { do: "set-param", step: step.id, path: ["rail"], value: { step: other.id } }];
  },
};

/** The selected rail, else the last one, along the free sections that there are: the first where it begins, the last where it ends. */
function turn({ outline, selected, keep, name, makes }: Scope) {
  const rail = selected && gives(selected, "rail") ? selected : outline.rails.at(-1);
  const section = selected && gives(selected, "section") ? selected.id : undefined;
  return {
    verb: "Shape" as const,
    title: rail ? `Turn ${rail.name} round an axis` : "Turn a rail round an axis",
    disabled: rail ? undefined : "needs a rail",
    keys: "s u",
    alike: "revolve lathe spin rotate profile bottle lip dome",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "turn",
          name: name("Turned"),
          params: {
            rail: { step: rail?.id ?? "" },
            ...(section ? { first: { step: section } } : {}),
            ...asResult(makes),
          },
        },
      ]),
  };
}
