import type { Step } from "../../api/types";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { ENDS } from "./ways";

/** How its ends are, in small pictures above its numbers. */
export function Sheet({ step }: { step: Step }) {
  return <DrawnChoice step={step} path="ends" title="Ends are" ways={ENDS} />;
}
