import { pickFor } from "../bodies";
import { gives } from "../registry";
import type { Kind, Scope } from "../kind";

const MEETS: Record<string, string> = {
  tangent: ", tangent to what is beside it",
  curvature: ", curved like what is beside it",
};

export const kind: Kind = {
  name: "patch",
  title: "Patch",
  result: "body",
  words: (step, _, names) => {
    const edges = (step.params["edges"] ?? []) as { step: string }[];
    const body = edges[0]?.step;
    return `${body ? `an opening of ${names(body)}` : "an opening, not picked yet,"} filled${MEETS[String(step.params["meets"])] ?? ""}`;
  },
  leave: () => ["meets"],
  choices: (scope) => [patch(scope)],
};

/** The opening is picked next: one edge, the rest of its loop comes along. */
function patch({ document, keep, name, floor }: Scope) {
  const body = document.steps.some((step) => gives(step, "body"));
  return {
    verb: "Finish" as const,
    title: "Patch an opening",
    disabled: body ? undefined : "needs edges of a body",
    keys: "f p",
    alike: "fill cap close hole surface boundary lid",
    act: async () => {
      await keep([{ do: "add-step", kind: "patch", name: name("Patch"), params: { edges: [] } }]);
      pickFor(floor, "patch", { path: ["edges"], what: "edge" });
    },
  };
}
