import type { Step } from "../api/types";
import type { Makes, Way } from "./kind";

/** What can become of a body that a step makes. */
export const MAKES: Way[] = [
  { value: "new", title: "A new body", start: () => ({ type: "new" }) },
  ...(["join", "cut", "overlap"] as const).map((type): Way => ({
    value: type,
    title: { join: "Joined to a body", cut: "Cut from a body", overlap: "Kept where it meets a body" }[type],
    start: ({ step, earlier }) => {
      const kept = (step.params["result"] as { body?: { step: string } } | undefined)?.body;
      return { type, body: kept ?? { step: earlier("body").at(-1)?.id ?? "" } };
    },
  })),
];

/** The parameter of a new step. */
export const asResult = (makes: Makes): Record<string, unknown> =>
  makes.type === "new" ? {} : { result: { type: makes.type, body: { step: makes.body } } };

/** How it reads in the Build: `, cut from Cup`. */
export function resultWords(step: Step, names: (step: string) => string): string {
  const result = step.params["result"] as { type: string; body?: { step: string } } | undefined;
  const body = result?.body ? names(result.body.step) : "";
  switch (result?.type) {
    case "join":
      return `, joined to ${body}`;
    case "cut":
      return `, cut from ${body}`;
    case "overlap":
      return `, kept within ${body}`;
    default:
      return "";
  }
}
