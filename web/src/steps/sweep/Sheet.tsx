import type { Step } from "../../api/types";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { RidingPoint } from "./RidingPoint";
import { ATTITUDES, CORNERS, PLACES } from "./ways";

/** How the section is carried, in small pictures above its numbers. */
export function Sheet({ step }: { step: Step }) {
  return (
    <>
      <DrawnChoice step={step} path="place" title="The section is" ways={PLACES} />
      <RidingPoint step={step} />
      <DrawnChoice step={step} path="attitude" title="Along the path" ways={ATTITUDES} />
      <DrawnChoice step={step} path="corners" title="Corners are" ways={CORNERS} />
    </>
  );
}
