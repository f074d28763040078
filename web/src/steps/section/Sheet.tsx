import Button from "@mui/material/Button";
import type { Step } from "../../api/types";
import { useFloor, useStep } from "../../floor/context";
import { stationOf } from "../../model/outline";
import { SchemaForm } from "../../sheet/SchemaForm";

/** A section begins with the station that it stands on: that is what is changed most. */
export function Sheet({ step }: { step: Step }) {
  const { place } = useFloor();
  const station = useStep(stationOf(step));
  if (!station) return null;
  return (
    <>
      <SchemaForm step={station} leave={["plane", "place", "flip"]} />
      <Button
        variant="text"
        onClick={() => place.setState({ selected: station.id })}
        sx={{ justifySelf: "start", my: -0.5 }}
      >
        Open {station.name}
      </Button>
    </>
  );
}
