import type { Step } from "../../api/types";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import type { WayDrawn } from "../../sheet/wayDrawn";

const MEETS: WayDrawn[] = [
  {
    value: "position",
    word: "Edges only",
    tells: "Inside its edges; flat where they are flat",
    path: "M3 24L12 12M32 12L41 24",
    ink: "M12 12H32",
  },
  {
    value: "tangent",
    word: "Tangent",
    tells: "In the tangent planes of what lies beside it",
    path: "M3 24L12 12M32 12L41 24",
    ink: "M12 12C18 4 26 4 32 12",
  },
  {
    value: "curvature",
    word: "Curved",
    tells: "With the curvature of what lies beside it",
    path: "M3 24C5 19 8 15 12 12M32 12C36 15 39 19 41 24",
    ink: "M12 12C18 7 26 7 32 12",
  },
];

/** How it meets what is beside it, in small pictures. */
export function Sheet({ step }: { step: Step }) {
  return <DrawnChoice step={step} path="meets" title="Meets what is beside it" ways={MEETS} />;
}
