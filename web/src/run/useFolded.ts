import { useFloor, usePlace } from "../floor/context";
import { useSmall } from "../theme/useRoom";

/** Whether the Run is folded away, and how to change that: it is where there is little room, until somebody unfolds it. */
export function useFolded(): [boolean, (folded: boolean) => void] {
  const { place } = useFloor();
  const small = useSmall();
  const chosen = usePlace((p) => p.folded);
  return [chosen ?? small, (folded) => place.setState({ folded })];
}
