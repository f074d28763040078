import { useOutline, usePlace } from "../floor/context";
import type { BodyGroup } from "../model/outline";

/** The body that is being worked on: the one that is selected or holds what is selected, or else the first. */
export function useActiveBody(): BodyGroup | undefined {
  const { groups } = useOutline();
  const selected = usePlace((p) => p.selected);
  return (
    groups.find(
      (g) => g.body.id === selected || g.stands.some((s) => s.section === selected || s.station === selected),
    ) ?? groups[0]
  );
}
