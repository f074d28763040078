import { pickFor } from "../bodies";
import type { Kind } from "../kind";

const faceIn = (params: Record<string, unknown>): string => (params["face"] as { step: string }).step;

export const kind: Kind = {
  name: "dome",
  title: "Dome",
  result: "body",
  words: (step, _, names) => `dome on ${names(faceIn(step.params))}`,
  choices: ({ body, keep, name, floor }) => [
    {
      verb: "Finish",
      title: `Dome a flat end of ${body?.name ?? "a body"}`,
      disabled: body ? undefined : "needs a body",
      keys: "f e",
      alike: "cap round close bulge nose top",
      act: async () => {
        if (!body) return;
        await keep([{ do: "add-step", kind: "dome", name: name("Dome"), params: { face: { step: body.id } } }]);
        pickFor(floor, "dome", { path: ["face"], what: "face" }, false);
      },
    },
  ],
};
