import type { Step } from "../../api/types";
import { bodyIn } from "../bodies";
import type { Kind, Scope } from "../kind";

const others = (step: Step) => (step.params["others"] ?? []) as { step: string }[];

export const kind: Kind = {
  name: "sew",
  title: "Sew",
  result: "body",
  words: (step, _, names) =>
    `${names(bodyIn(step))} sewn to ${others(step)
      .map((other) => names(other.step))
      .join(", ")}`,
  choices: (scope) => [sew(scope)],
  without: (step, gone) => {
    const left = others(step).filter((other) => !gone.has(other.step));
    if (gone.has(bodyIn(step)) || !left.length) return null;
    return [{ do: "set-param", step: step.id, path: ["others"], value: left }];
  },
};

/** All sheets that stand, together; the first that was made takes the others. */
function sew({ outline, statuses, keep, name }: Scope) {
  const sheets = outline.standing.filter((step) => {
    const summary = statuses[step.id]?.summary;
    return summary?.result === "body" && !summary.closed;
  });
  const [first, ...rest] = sheets;
  const ready = first && rest.length > 0;
  return {
    verb: "Finish" as const,
    title: ready
      ? `Sew ${sheets.length === 2 ? `${first.name} and ${rest[0]?.name}` : `${sheets.length} sheets`} together`
      : "Sew sheets together",
    disabled: ready ? undefined : "needs two sheets",
    keys: "f s",
    alike: "stitch knit quilt merge close surfaces solid watertight",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "sew",
          name: name("Sewn"),
          params: { body: { step: first?.id ?? "" }, others: rest.map(({ id }) => ({ step: id })) },
        },
      ]),
  };
}
