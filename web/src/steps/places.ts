import type { LengthUnit } from "../api/types";
import type { Stand } from "../model/outline";
import { millimetres } from "../model/units";
import type { Scope } from "./kind";

/** How far from the last section the next one goes, mm. */
export const spacing = (unit: LengthUnit): number => (unit === "in" ? millimetres("in") : 30);

export function planeOf({ document }: Scope, stand: Stand | undefined): string {
  const station = document.steps.find((step) => step.id === stand?.station);
  return (station?.params["plane"] as string | undefined) ?? "top";
}

export function offsetOf({ statuses }: Scope, stand: Stand | undefined): number {
  const summary = statuses[stand?.station ?? ""]?.summary;
  return summary?.result === "station" ? summary.offset : 0;
}

/** The offset that goes on from the last of some stations in their direction. */
export function beyond(scope: Scope): number {
  const { stands, document } = scope;
  const last = stands.at(-1);
  if (!last) return 0;
  const back = stands.length > 1 && offsetOf(scope, last) < offsetOf(scope, stands[0]);
  return offsetOf(scope, last) + spacing(document.unit) * (back ? -1 : 1);
}
