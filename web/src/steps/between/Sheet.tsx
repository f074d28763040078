import type { Step } from "../../api/types";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { GROWS, PAIRINGS } from "./ways";

/** Which places of the rails belong together, and what the height does, in small pictures above the numbers. */
export function Sheet({ step }: { step: Step }) {
  return (
    <>
      <DrawnChoice step={step} path="pairing" title="Rails are paired by" ways={PAIRINGS} />
      <DrawnChoice step={step} path="grows" title="With the width grows" ways={GROWS} />
    </>
  );
}
