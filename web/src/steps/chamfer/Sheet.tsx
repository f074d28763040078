import Button from "@mui/material/Button";
import type { Step } from "../../api/types";
import { useFloor } from "../../floor/context";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { EdgeSets, type EdgeSet } from "../../sheet/EdgeSets";
import type { WayDrawn } from "../../sheet/wayDrawn";

const CUTS: WayDrawn[] = [
  {
    value: "equal",
    word: "Alike",
    tells: "As far on both faces",
    path: "M6 26V4H38",
    ink: "M6 16L18 4",
  },
  {
    value: "distances",
    word: "Two distances",
    tells: "A distance of its own on each face",
    path: "M6 26V4H38",
    ink: "M6 12L30 4",
  },
  {
    value: "angle",
    word: "By an angle",
    tells: "A distance on the first face, and the angle to it",
    path: "M6 26V4H38",
    ink: "M6 20L22 4M12 4A6 6 0 0 0 17 9",
  },
];

/** Which edges are cut off, and how much. */
export function Sheet({ step }: { step: Step }) {
  return (
    <EdgeSets step={step} of="ChamferSet" leave={left} begin={{ edges: [], distance: 1 }}>
      {(set, number) => (
        <>
          <DrawnChoice step={step} path={["sets", number, "way"]} title="Cut" ways={CUTS} />
          {(set["way"] ?? "equal") !== "equal" && <OtherFaceFirst step={step} set={set} number={number} />}
        </>
      )}
    </EdgeSets>
  );
}

/** Numbers that have no say. */
function left(set: EdgeSet): string[] {
  const way = set["way"] ?? "equal";
  return ["way", "first", ...(way === "distances" ? [] : ["other"]), ...(way === "angle" ? [] : ["angle"])];
}

/** Which of the two faces of each picked edge is the first. */
function OtherFaceFirst({ step, set, number }: { step: Step; set: EdgeSet; number: number }) {
  const { change } = useFloor();
  const first = (set["first"] ?? []) as string[];
  const edges = (set["edges"] ?? []) as { part?: string | null }[];
  const swap = () => {
    // in a name both faces stand in their order: the first of them is the first where nothing is said
    const pairs = edges.map(({ part }) => (part ?? "").split("#")[0]?.split("|") ?? []);
    const second = pairs.flatMap(([, other]) => (other ? [other] : []));
    const value = first.length ? [] : second;
    return change([{ do: "set-param", step: step.id, path: ["sets", number, "first"], value }]);
  };
  return (
    <Button variant="text" disabled={!edges.length} onClick={() => void swap()} sx={{ justifySelf: "start" }}>
      Begin from the other face
    </Button>
  );
}
