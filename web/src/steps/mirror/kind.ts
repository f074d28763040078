import { bodyIn, toBody } from "../bodies";
import type { Kind } from "../kind";

export const kind: Kind = {
  name: "mirror",
  title: "Mirror",
  result: "body",
  words: (step, _, names) => {
    const kept = (step.params["keep"] ?? true) as boolean;
    return kept ? `mirror image of ${names(bodyIn(step))}` : `${names(bodyIn(step))} mirrored`;
  },
  choices: (scope) => [
    toBody(
      scope,
      "mirror",
      { title: (body) => `Mirror ${body}`, name: "Mirror", keys: "f i", alike: "reflect symmetric flip image" },
      (body) => ({ plane: "side", offset: beside(scope.statuses[body.id]) }),
    ),
  ],
};

/** A plane that touches the body, so that the image is seen beside it. */
function beside(status: { summary?: unknown } | undefined): number {
  const high = (status?.summary as { high?: number[] } | undefined)?.high?.[0] ?? 0;
  return Math.round(high * 100) / 100;
}
