import type { Step } from "../../api/types";
import { LoftSections } from "./LoftSections";
import { LoftTies } from "./LoftTies";

/** What a loft shows above its numbers. */
export function Sheet({ step }: { step: Step }) {
  return (
    <>
      <LoftSections step={step} />
      <LoftTies step={step} />
    </>
  );
}
