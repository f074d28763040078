import type { Edit, Step } from "../../api/types";

export interface LoftSection {
  section: { step: string };
  /** How much of its own swelling the skin keeps in the bay that begins here, 0 to 1. */
  slack?: number;
  /** A smooth skin bends anew here. */
  crease?: boolean;
}

export const loftSections = (step: Step): LoftSection[] => (step.params["sections"] ?? []) as LoftSection[];

/** Whether slack says anything: of what is smooth, and held between its sections. */
export const hasSlack = (step: Step): boolean =>
  step.params["between"] !== "straight" &&
  ["calm", "even", "fair"].includes(step.params["skin"] as string) &&
  loftSections(step).length > 2;

export const slackOf = (step: Step, bay: number): number => loftSections(step)[bay]?.slack ?? 0;

export const withSlack = (step: Step, bay: number, slack: number): Edit[] => [
  { do: "set-param", step: step.id, path: ["sections", bay, "slack"], value: slack },
];

/** Whether after the last section comes the first one again. */
export const isRing = (step: Step): boolean => step.params["closed"] === true;

/** Whether the skin can bend anew at a section: a smooth one, at all but its ends. */
export const canCrease = (step: Step, number: number): boolean =>
  step.params["between"] !== "straight" && (isRing(step) || (number > 0 && number + 1 < loftSections(step).length));

export const hasCrease = (step: Step, number: number): boolean => loftSections(step)[number]?.crease ?? false;

export const withCrease = (step: Step, number: number, crease: boolean): Edit[] => [
  { do: "set-param", step: step.id, path: ["sections", number, "crease"], value: crease },
];
