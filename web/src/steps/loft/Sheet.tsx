import type { Step } from "../../api/types";
import { LoftSections } from "./LoftSections";

/** What a loft shows above its numbers. */
export function Sheet({ step }: { step: Step }) {
  return <LoftSections step={step} />;
}
