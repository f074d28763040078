import type { Edit, Step } from "../../api/types";
import { broughtBefore } from "../../model/order";
import { lengthNumber } from "../../model/units";
import type { Kind, Scope } from "../kind";
import { gives } from "../registry";
import { asResult, MAKES, resultWords } from "../result";

const paths = (step: Step) => (step.params["paths"] ?? []) as { step: string }[];

export const kind: Kind = {
  name: "tube",
  title: "Tube",
  result: "body",
  words: (step, status, names, { unit }) => {
    const along = paths(step);
    const profile = step.params["profile"] as { step: string } | null | undefined;
    const diameter = status?.values?.["diameter"] ?? step.params["diameter"] ?? 10;
    const outline = String(step.params["outline"] ?? "round");
    const what = profile
      ? names(profile.step)
      : [
          ...(outline === "round" && typeof diameter === "number" ? [] : [outline]),
          ...(typeof diameter === "number" ? [`${lengthNumber(diameter, unit)} thick`] : []),
        ].join(", ");
    const first = along[0] ? names(along[0].step) : "no rail";
    return `tube, ${what}, along ${along.length > 1 ? `${along.length} rails` : first}${resultWords(step, names)}`;
  },
  choices: (scope) => [tube(scope), ...apart(scope)],
  leave: ({ params }) => [
    ...(params["profile"] ? ["outline", "diameter", "wall"] : []),
    ...(params["profile"] || (params["outline"] ?? "round") !== "round" ? [] : ["turn", "twist"]),
    ...(params["corners"] === "mitred" ? ["radius"] : []),
    ...(params["corners"] === "stepped" ? [] : ["steps"]),
  ],
  ways: { result: MAKES },
  without: (step, gone) => {
    const left = paths(step).filter((path) => !gone.has(path.step));
    const edits: Edit[] = [];
    if (!left.length) return null;
    if (left.length < paths(step).length) edits.push({ do: "set-param", step: step.id, path: ["paths"], value: left });
    if (gone.has((step.params["profile"] as { step?: string } | null | undefined)?.step ?? ""))
      edits.push({ do: "set-param", step: step.id, path: ["profile"], value: null });
    return edits.length ? edits : null;
  },
  given: (step, other, steps) => {
    if (!gives(other, "rail") || paths(step).some((path) => path.step === other.id)) return null;
    const moves = broughtBefore(step.id, other.id, steps);
    return (
      moves && [
        ...moves,
        { do: "set-param", step: step.id, path: ["paths"], value: [...paths(step), { step: other.id }] },
      ]
    );
  },
};

/** Along the selected rail, or along all that nothing else is made of. */
function tube({ document, outline, selected, keep, name, makes }: Scope) {
  const used = new Set(document.steps.filter((step) => gives(step, "body")).flatMap(({ params }) => railsIn(params)));
  const free = outline.rails.filter((step) => !used.has(step.id));
  const chosen = selected && gives(selected, "rail") ? [selected] : free.length ? free : outline.rails.slice(-1);
  const [first] = chosen;
  return {
    verb: "Shape" as const,
    title: !first
      ? "Tube along a rail"
      : chosen.length > 1
        ? `Tube along ${chosen.length} rails`
        : `Tube along ${first.name}`,
    disabled: first ? undefined : "needs a rail to go along",
    keys: "s t",
    alike: "pipe rod wire hose cable handle rail bar sweep",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "tube",
          name: name("Tube"),
          params: { paths: chosen.map((step) => ({ step: step.id })), ...asResult(makes) },
        },
      ]),
  };
}

/** A tube along several rails becomes one for each, to be changed by itself. */
function apart({ document, selected, keep, name }: Scope) {
  if (selected?.kind !== "tube" || paths(selected).length < 2) return [];
  const [first, ...others] = paths(selected);
  const called = (id: string) => {
    const rail = document.steps.find((step) => step.id === id)?.name ?? id;
    const plain = `${selected.name} along ${rail}`;
    return document.steps.some((step) => step.name === plain) ? name(plain) : plain;
  };
  return [
    {
      verb: "Finish" as const,
      title: `Part ${selected.name} into one for each rail`,
      alike: "separate split explode single tubes one by one",
      act: () =>
        keep([
          { do: "set-param", step: selected.id, path: ["paths"], value: [first] },
          ...others.map((path): Edit => ({
            do: "add-step",
            kind: "tube",
            name: called(path.step),
            params: { ...selected.params, paths: [path] },
          })),
        ]),
    },
  ];
}

/** Steps that are named anywhere in parameters. */
function railsIn(value: unknown): string[] {
  if (Array.isArray(value)) return value.flatMap(railsIn);
  if (value === null || typeof value !== "object") return [];
  const { step } = value as { step?: unknown };
  return [...(typeof step === "string" ? [step] : []), ...Object.values(value).flatMap(railsIn)];
}
