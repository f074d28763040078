import type { Step } from "../../api/types";
import { pickFor } from "../bodies";
import { gives } from "../registry";
import type { Kind, Scope } from "../kind";
import { asResult, MAKES, resultWords } from "../result";
import { LEAVES } from "./ways";

interface End {
  edges?: { step: string }[];
  meets?: string;
}

const endOf = (step: Step, side: "first" | "second") => (step.params[side] ?? {}) as End;

export const kind: Kind = {
  name: "bridge",
  title: "Bridge",
  result: "body",
  words: (step, _, names) => {
    const [from, to] = (["first", "second"] as const).map((side) => {
      const end = endOf(step, side);
      const body = end.edges?.[0]?.step;
      const way = LEAVES.find(({ value }) => value === (end.meets ?? "tangent"))?.word.toLowerCase() ?? "";
      return body ? `${names(body)} (${way})` : "edges not picked yet";
    });
    return `bridge from ${from} to ${to}${resultWords(step, names)}`;
  },
  leave: () => ["first", "second", "against", "ends", "start"],
  choices: (scope) => [bridge(scope)],
  ways: { result: MAKES },
};

/** The edges at both of its ends are picked next, one end after the other. */
function bridge({ document, keep, name, makes, floor }: Scope) {
  const body = document.steps.some((step) => gives(step, "body"));
  return {
    verb: "Shape" as const,
    title: "Bridge between edges",
    disabled: body ? undefined : "needs edges of a body",
    keys: "s g",
    alike: "blend connect surface between gap loft transition join smooth",
    act: async () => {
      await keep([{ do: "add-step", kind: "bridge", name: name("Bridge"), params: { ...asResult(makes) } }]);
      pickFor(floor, "bridge", {
        path: ["first", "edges"],
        what: "edge",
        then: { path: ["second", "edges"], words: "Now the edges where it ends" },
      });
    },
  };
}
