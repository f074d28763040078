import { lengthNumber } from "../../model/units";
import { bodyIn, thenPicking, toBody } from "../bodies";
import type { Kind } from "../kind";

export const kind: Kind = {
  name: "extend",
  title: "Extend",
  result: "body",
  words: (step, status, names, { unit }) => {
    const distance = status?.values?.["distance"] ?? step.params["distance"] ?? 10;
    const edges = (step.params["edges"] as unknown[] | undefined)?.length ?? 0;
    const far = typeof distance === "number" ? ` by ${lengthNumber(distance, unit)}` : "";
    if (!edges && step.params["whole"] !== true) return `no edge of ${names(bodyIn(step))} yet`;
    const where = step.params["whole"] === true ? "all round" : edges === 1 ? "at an edge" : `at ${edges} edges`;
    return `${names(bodyIn(step))} goes on ${where}${far}${step.params["way"] === "straight" ? ", straight" : ""}`;
  },
  leave: () => ["distance", "way", "whole", "edges", "body"],
  choices: (scope) => {
    const summary = scope.body && scope.statuses[scope.body.id]?.summary;
    if (summary?.result !== "body" || summary.closed) return [];
    const choice = toBody(
      scope,
      "extend",
      {
        title: (body) => `Extend ${body} beyond its rim`,
        name: "Extended",
        keys: "f x",
        alike: "extend lengthen grow prolong surface edge further",
      },
      () => ({ distance: 10, edges: [] }),
    );
    return [thenPicking(choice, scope, "extend", { path: ["edges"], what: "edge" })];
  },
};
