import type { Step } from "../../api/types";
import { broughtBefore } from "../../model/order";
import { sectionIn } from "../areas";
import { onCopies } from "../bodies";
import type { Kind, Scope } from "../kind";
import { gives } from "../registry";
import { asResult, MAKES, resultWords } from "../result";

const pathIn = (step: Step): string => (step.params["path"] as { step?: string } | undefined)?.step ?? "";

const also = (step: Step) => (step.params["also"] ?? []) as { step: string }[];

export const kind: Kind = {
  name: "sweep",
  title: "Sweep",
  result: "body",
  laws: () => ["twist", "width", "height"],
  words: (step, _, names) => {
    const held = { least: "", upright: ", upright", parallel: ", parallel", surface: ", up from a face" }[
      String(step.params["attitude"] ?? "least")
    ];
    return `sweep of ${names(sectionIn(step))} along ${names(pathIn(step))}${more(also(step).length)}${held ?? ""}${resultWords(step, names)}`;
  },
  choices: (scope) => [sweep(scope), lip(scope)],
  // its laws are on the Run, and what says nothing as things stand is left out
  leave: ({ params }) => [
    ...["place", "rides", "attitude", "corners", "twist", "width", "height", "together"],
    ...(params["rides"] === "point" && params["place"] !== "drawn" ? [] : ["point"]),
    ...(params["attitude"] === "upright" ? [] : ["level"]),
    ...(params["attitude"] === "surface" ? [] : ["surface"]),
    ...(params["corners"] === "rounded" || params["corners"] === "stepped" ? [] : ["radius"]),
    ...(params["corners"] === "stepped" ? [] : ["steps"]),
  ],
  ways: { result: MAKES },
  without: (step, gone) => {
    const left = [{ step: pathIn(step) }, ...also(step)].filter((path) => !gone.has(path.step));
    const [first, ...others] = left;
    if (!first || gone.has(sectionIn(step)) || left.length > also(step).length) return null;
    return [
      { do: "set-param", step: step.id, path: ["path"], value: first },
      { do: "set-param", step: step.id, path: ["also"], value: others },
    ];
  },
  given: (step, other, steps) => {
    if (!gives(other, "rail") || pathIn(step) === other.id) return null;
    const moves = broughtBefore(step.id, other.id, steps);
    return moves && [...moves, { do: "set-param", step: step.id, path: ["path"], value: { step: other.id } }];
  },
};

const more = (count: number) => (count ? ` and ${count} more` : "");

/** The selected section, else the last free one, else the last. */
function profileIn({ document: { steps }, outline, selected }: Scope): Step | undefined {
  const loose = outline.loose.at(-1)?.section;
  const here = selected && gives(selected, "section") ? selected : undefined;
  return here ?? steps.find((step) => step.id === loose) ?? steps.findLast((step) => gives(step, "section"));
}

/** A rib or lip: a section swept along edges of the body and joined to it. Which edges is picked next. */
function lip(scope: Scope) {
  const { body, keep, name, floor, statuses } = scope;
  const section = profileIn(scope);
  const copies = onCopies(statuses[body?.id ?? ""]);
  const whole = { type: "edges", edge: { step: body?.id ?? "", part: null }, loop: true, ...copies };
  return {
    verb: "Finish" as const,
    title: section && body ? `Run ${section.name} round edges of ${body.name}` : "Run a section round edges of a body",
    disabled: body ? (section ? undefined : "needs a section") : "needs a body",
    keys: "f u",
    alike: "rib lip bead moulding rim gasket along loop",
    act: async () => {
      const result = { type: "join", body: { step: body?.id ?? "" } };
      const params = { section: { step: section?.id ?? "" }, path: { step: "$edges" }, result };
      await keep([
        { do: "add-step", kind: "rail", name: name("Rail"), params: { shape: whole }, alias: "$edges" },
        { do: "add-step", kind: "sweep", name: name("Lip"), params },
      ]);
      const made = floor.place.getState().selected;
      const lip = (await floor.kept())?.document.steps.find((step) => step.id === made);
      const rail = lip && pathIn(lip);
      if (rail)
        floor.place.setState({
          selected: rail,
          picking: { step: rail, path: ["shape", "edge"], what: "edge", many: false },
        });
    },
  };
}

/** The selected section or rail, else the last free section along the last rail. */
function sweep(scope: Scope) {
  const { outline, selected, keep, name, makes } = scope;
  const section = profileIn(scope);
  const rail = selected && gives(selected, "rail") ? selected : outline.rails.at(-1);
  const missing = section ? (rail ? undefined : "needs a rail to go along") : "needs a section";
  return {
    verb: "Shape" as const,
    title: section && rail ? `Sweep ${section.name} along ${rail.name}` : "Sweep a section along a rail",
    disabled: missing,
    apart: true,
    keys: "s p",
    alike: "pipe tube path follow along moulding trim gasket extrude",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "sweep",
          name: name("Sweep"),
          params: { section: { step: section?.id ?? "" }, path: { step: rail?.id ?? "" }, ...asResult(makes) },
        },
      ]),
  };
}
