import type { Step } from "../../api/types";
import { EdgeSets } from "../../sheet/EdgeSets";
import { RadiiAlong } from "./RadiiAlong";

/** Which edges are rounded, and how much: by one radius, or by one that changes along them. */
export function Sheet({ step }: { step: Step }) {
  return (
    <EdgeSets
      step={step}
      of="FilletSet"
      leave={(set) => ["along", ...((set["along"] as unknown[] | undefined)?.length ? ["radius"] : [])]}
      begin={{ edges: [], radius: 2 }}
    >
      {(set, number) => <RadiiAlong step={step} set={set} number={number} />}
    </EdgeSets>
  );
}
