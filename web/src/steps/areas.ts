import { gives } from "./registry";
import type { Step } from "../api/types";
import type { Scope } from "./kind";

/** The drawing that a body is made of. */
export const sectionIn = (step: Step): string => (step.params["section"] as { step?: string } | undefined)?.step ?? "";

/** The one that a new body is made of: the selected section, or the last one that is free. */
export function ofSection({ document, selected, outline }: Scope, word: string) {
  const last = outline.loose.at(-1)?.section;
  const here = selected && gives(selected, "section") ? selected.id : last;
  const step = document.steps.find((s) => s.id === here);
  return {
    section: step?.id ?? "",
    title: step ? `${word} ${step.name}` : `${word} a section`,
    disabled: step ? undefined : "needs a section",
  };
}
