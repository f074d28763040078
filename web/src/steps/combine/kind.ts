import type { Step } from "../../api/types";
import { bodyIn } from "../bodies";
import type { Choice, Kind, Scope } from "../kind";

const HOW = [
  { how: "join", title: "Join", alike: "union fuse add weld", keys: "f j" },
  { how: "cut", title: "Cut", alike: "subtract hollow minus remove", keys: "f c" },
  { how: "overlap", title: "Keep the overlap of", alike: "intersect common", keys: "f o" },
] as const;

const tools = (step: Step) => (step.params["tools"] ?? []) as { step: string }[];

export const kind: Kind = {
  name: "combine",
  title: "Combine",
  result: "body",
  words: (step, _, names) => {
    const body = names(bodyIn(step));
    const others = tools(step)
      .map((tool) => names(tool.step))
      .join(", ");
    switch (step.params["how"]) {
      case "cut":
        return `${others} cut from ${body}`;
      case "overlap":
        return `where ${body} and ${others} overlap`;
      default:
        return `${body} joined with ${others}`;
    }
  },
  choices: (scope) => HOW.map((item) => combined(scope, item)),
  without: (step, gone) => {
    const left = tools(step).filter((tool) => !gone.has(tool.step));
    const body = bodyIn(step);
    if (gone.has(body) || !left.length) return null;
    return [{ do: "set-param", step: step.id, path: ["tools"], value: left }];
  },
};

/** The body that is meant takes the others that stand: one at once, and more are picked in the scene. */
function combined(scope: Scope, { how, title, alike, keys }: (typeof HOW)[number]): Choice {
  const standing = scope.outline.standing;
  const chosen = scope.body && standing.find((step) => step.id === scope.body?.id);
  // a body is cut by what was made after it
  const body = standing.length === 2 ? standing[0] : chosen;
  const tool = standing.filter((step) => step.id !== body?.id).at(-1);
  const ready = body && tool;
  const words = how === "cut" ? `Cut ${tool?.name} from ${body?.name}` : `${title} ${body?.name} and ${tool?.name}`;
  return {
    verb: "Finish",
    title: ready ? words : `${title} bodies`,
    disabled: ready ? undefined : "needs two bodies",
    alike,
    keys,
    act: () =>
      scope.keep([
        {
          do: "add-step",
          kind: "combine",
          name: scope.name(how === "cut" ? "Cut" : how === "join" ? "Join" : "Overlap"),
          params: { how, body: { step: body?.id ?? "" }, tools: [{ step: tool?.id ?? "" }] },
        },
      ]),
  };
}
