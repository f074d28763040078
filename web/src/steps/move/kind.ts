import { bodyIn, toBody } from "../bodies";
import type { Kind } from "../kind";

export const kind: Kind = {
  name: "move",
  title: "Move and turn",
  result: "body",
  words: (step, _, names) => {
    const turned = (step.params["angle"] ?? 0) !== 0;
    const moved = ((step.params["by"] ?? []) as unknown[]).some((value) => value !== 0);
    return `${names(bodyIn(step))} ${turned ? (moved ? "moved and turned" : "turned") : "moved"}`;
  },
  choices: (scope) => [
    toBody(
      scope,
      "move",
      {
        title: (body) => `Move and turn ${body}`,
        name: "Move",
        keys: "f m",
        alike: "translate rotate shift place",
        apart: true,
      },
      () => ({ by: [20, 0, 0] }),
    ),
  ],
};
