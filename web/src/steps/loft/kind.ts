import type { Edit } from "../../api/types";
import { broughtBefore } from "../../model/order";
import type { Choice, Kind, Scope } from "../kind";
import { gives } from "../registry";
import { tiesOf, tiesWithout } from "./ties";
import { asResult, MAKES, resultWords } from "../result";

interface Item {
  section: { step: string };
}

const items = (params: Record<string, unknown>): Item[] => (params["sections"] ?? []) as Item[];

export const kind: Kind = {
  name: "loft",
  title: "Loft",
  result: "body",
  laws: () => ["twist", "width", "height"],
  words: (step, status, names) => {
    const count = items(step.params).length;
    const straight = step.params["between"] === "straight";
    const rails = ((step.params["rails"] ?? []) as unknown[]).length;
    const guided = rails ? `, ${rails} rail${rails === 1 ? "" : "s"}` : "";
    const sheet = status?.summary?.result === "body" && !status.summary.closed ? ", a sheet" : "";
    return `${straight ? "straight loft" : "loft"} through ${count} section${count === 1 ? "" : "s"}${sheet}${guided}${step.params["mirrored"] ? ", mirrored" : ""}${step.params["centre"] ? ", along a line" : ""}${step.params["closed"] ? ", in a ring" : ""}${resultWords(step, names)}`;
  },
  choices: (scope) => [
    through(scope, "smooth", "Smooth loft"),
    through(scope, "straight", "Straight loft"),
    through(scope, "smooth", "Ring", { closed: true }),
  ],
  // set in the list of sections, or on the Run
  leave: (step) => [
    ...["sections", "ties", "start", "end", "twist", "width", "height", "together"],
    ...(step.params["about"] === "riding" ? [] : ["riding"]),
    ...(step.params["between"] === "straight" ? ["skin"] : []),
    ...(((step.params["rails"] ?? []) as unknown[]).length ? [] : ["carries"]),
  ],
  ways: { result: MAKES },
  without: (step, gone) => {
    const edits = ["sections", "rails"].flatMap((path): Edit[] => {
      const all = (step.params[path] ?? []) as (Item | { step: string })[];
      const left = all.filter((item) => !gone.has("section" in item ? item.section.step : item.step));
      return left.length === all.length ? [] : [{ do: "set-param", step: step.id, path: [path], value: left }];
    });
    const ties = tiesOf(step);
    if (ties.some((tie) => tie.places.some(({ section }) => gone.has(section.step))))
      edits.push({ do: "set-param", step: step.id, path: ["ties"], value: tiesWithout(ties, gone) });
    for (const path of ["mirrored", "centre"])
      if (gone.has((step.params[path] as { step: string } | null | undefined)?.step ?? ""))
        edits.push({ do: "set-param", step: step.id, path: [path], value: null });
    return edits.length ? edits : null;
  },
  given: (step, other, steps) => {
    const rails = (step.params["rails"] ?? []) as { step: string }[];
    if (!gives(other, "rail") || step.params["between"] === "straight" || rails.some((ref) => ref.step === other.id))
      return null;
    const moves = broughtBefore(step.id, other.id, steps);
    return (
      moves && [...moves, { do: "set-param", step: step.id, path: ["rails"], value: [...rails, { step: other.id }] }]
    );
  },
  fair: (step) => items(step.params).length > 3,
  row: (step) => ({ path: "sections", items: items(step.params) }),
};

/** more: parameters beside those that every loft is made with. */
function through(
  { outline, keep, name, makes }: Scope,
  between: "smooth" | "straight",
  word: string,
  more: { closed?: true } = {},
): Choice {
  const [least, spelt] = more.closed ? [3, "three"] : [2, "two"];
  const enough = outline.loose.length < least ? `needs ${spelt} sections that are free` : undefined;
  const free = enough ? "free sections" : `${outline.loose.length} free sections`;
  const sections = outline.loose.map((stand) => ({ section: { step: stand.section } }));
  return {
    verb: "Shape",
    title: `${word} through ${free}`,
    disabled: enough,
    keys: more.closed ? "s i" : between === "smooth" ? "s l" : "s g",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "loft",
          name: name(more.closed ? "Ring" : "Body"),
          params: { sections, between, ...(between === "smooth" ? { skin: "calm" } : {}), ...more, ...asResult(makes) },
        },
      ]),
  };
}
