import { planeOf, type Plane } from "../model/plane";
import { useBuilt, usePlace } from "./context";

/** The plane that the chosen section or station lies in. */
export function useChosenPlane(): Plane | null {
  const selected = usePlace((p) => p.selected);
  const status = useBuilt((built) => (selected === null ? undefined : built.steps[selected]));
  return planeOf(status);
}
