import Button from "@mui/material/Button";
import type { Step } from "../../api/types";
import { useFloor } from "../../floor/context";
import { bringIn } from "./bringIn";

/** A newer file goes where the old one was: what was done to it since is done to the new one. */
export function Sheet({ step }: { step: Step }) {
  const floor = useFloor();
  const use = step.kind === "reference" ? "reference" : "work";
  return (
    <Button variant="outlined" onClick={() => void bringIn(floor, use, step.id)} sx={{ justifySelf: "start" }}>
      Another file in its place
    </Button>
  );
}
