import Button from "@mui/material/Button";
import type { Step } from "../../api/types";
import { useFloor } from "../../floor/context";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import type { WayDrawn } from "../../sheet/wayDrawn";

const KEEP: WayDrawn[] = [
  {
    value: "front",
    word: "In front",
    tells: "What lies on the side to which the tool looks; outside of a body",
    path: "M6 15H38M22 15V9M20 11L22 9L24 11",
    ink: "M12 15V5H32V15Z",
  },
  {
    value: "back",
    word: "Behind",
    tells: "What lies on the other side; inside of a body",
    path: "M6 15H38M22 15V9M20 11L22 9L24 11",
    ink: "M12 15V26H32V15Z",
  },
  {
    value: "picked",
    word: "Picked",
    tells: "The part that is clicked in the scene",
    path: "M6 15H38M12 17V27H32V17Z",
    ink: "M12 13V4H32V13ZM22 8.5h.1",
  },
  {
    value: "both",
    word: "Both",
    tells: "All of it, in parts",
    path: "M6 15H38",
    ink: "M12 13V4H32V13ZM12 17V27H32V17Z",
  },
];

/** Which side is kept, in small pictures, or which part: all are shown while it is picked. */
export function Sheet({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const pick = async () => {
    await change([{ do: "set-param", step: step.id, path: ["place"], value: null }]);
    place.setState({ picking: { step: step.id, path: ["place"], what: "spot", many: false } });
  };
  return (
    <>
      <DrawnChoice step={step} path="keep" title="Keep" ways={KEEP} />
      {step.params["keep"] === "picked" && (
        <Button variant="outlined" onClick={() => void pick()} sx={{ justifySelf: "start" }}>
          {step.params["place"] ? "Pick another part" : "Pick the part"}
        </Button>
      )}
    </>
  );
}
