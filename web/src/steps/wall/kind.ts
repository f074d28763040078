import { lengthNumber } from "../../model/units";
import { bodyIn, onCopies, thenPicking, toBody } from "../bodies";
import type { Kind } from "../kind";

const LIES: Record<string, string> = { outwards: ", outside", middle: ", half and half" };

export const kind: Kind = {
  name: "wall",
  title: "Wall",
  result: "body",
  words: (step, status, names, { unit }) => {
    const thickness = status?.values?.["thickness"] ?? step.params["thickness"] ?? 2;
    const open = (step.params["open"] as unknown[] | undefined)?.length ?? 0;
    const some = open === 1 ? "one face open" : `${open} faces open`;
    const left = open === 0 ? "closed all round" : `${some}${step.params["copies"] ? " on every copy" : ""}`;
    if (status?.summary?.result === "body" && status.summary.wall?.of_sheet)
      return `${names(bodyIn(step))} made ${typeof thickness === "number" ? `${lengthNumber(thickness, unit)} ` : ""}thick${LIES[String(step.params["way"])] ?? ""}`;
    const thick = typeof thickness === "number" ? ` of ${lengthNumber(thickness, unit)}` : "";
    return `wall${thick} in ${names(bodyIn(step))}${LIES[String(step.params["way"])] ?? ""}, ${left}`;
  },
  leave: () => ["body", "thickness", "way", "open", "copies", "own"],
  choices: (scope) => {
    const summary = scope.body && scope.statuses[scope.body.id]?.summary;
    const sheet = summary?.result === "body" && !summary.closed;
    const choice = toBody(
      scope,
      "wall",
      {
        title: (body) => (sheet ? `Make ${body} thick` : `Hollow ${body} to a wall`),
        name: "Wall",
        keys: "f w",
        alike: "shell thickness hollow thin inside empty thicken sheet",
      },
      (body) => ({ thickness: 2, open: [], ...onCopies(scope.statuses[body.id]) }),
    );
    // which faces stay open is picked next; a sheet has none
    if (sheet) return [choice];
    return [thenPicking(choice, scope, "wall", { path: ["open"], what: "face" })];
  },
};
