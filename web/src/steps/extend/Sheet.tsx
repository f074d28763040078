import { useEffect } from "react";
import type { Step } from "../../api/types";
import { useFloor } from "../../floor/context";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { ParamField } from "../../sheet/SchemaForm";
import type { WayDrawn } from "../../sheet/wayDrawn";

const GOES_ON: WayDrawn[] = [
  {
    value: "curving",
    word: "As it curves",
    tells: "On the circle that it bends to where it ends",
    path: "M4 26C8 14 14 9 22 8",
    ink: "M22 8C30 7 36 10 40 18",
  },
  {
    value: "straight",
    word: "Straight",
    tells: "In the planes that touch it where it ends",
    path: "M4 26C8 14 14 9 22 8",
    ink: "M22 8L40 6",
  },
];

/** Where a sheet goes on, how far and how. */
export function Sheet({ step }: { step: Step }) {
  const { place } = useFloor();
  const whole = step.params["whole"] === true;
  useEffect(() => {
    // all of the rim: nothing is to be picked any more
    if (whole && place.getState().picking?.step === step.id) place.setState({ picking: null });
  }, [whole, place, step.id]);
  return (
    <>
      <ParamField step={step} name="distance" />
      <DrawnChoice step={step} path="way" title="It goes on" ways={GOES_ON} />
      <ParamField step={step} name="whole" />
      {!whole && <ParamField step={step} name="edges" />}
      <ParamField step={step} name="body" />
    </>
  );
}
