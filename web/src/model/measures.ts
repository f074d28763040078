import type { LengthUnit, MeasureSummary, StepStatus } from "../api/types";
import { grams } from "./finish";
import { area, length, trimmed, volume } from "./units";

/** What a step measures, as far as it is known. */
export const measureOf = (status: StepStatus | undefined): MeasureSummary | null =>
  status?.summary?.result === "measure" ? status.summary : null;

/** A number of that kind in the unit of the design: `12.5 mm`. */
export function amountOf(kind: MeasureSummary["unit"], value: number, unit: LengthUnit): string {
  switch (kind) {
    case "deg":
      return `${trimmed(value, 2)}°`;
    case "mm2": {
      const found = area(value, unit);
      return `${found.value} ${found.unit}`;
    }
    case "g":
      return grams(value);
    case "mm3": {
      const found = volume(value, unit);
      return `${found.value} ${found.unit}`;
    }
    default:
      return length(value, unit);
  }
}

/** The number, and how it stands to its aim: `31 mm, 0.95 mm over`. */
export function measureInWords(told: MeasureSummary, unit: LengthUnit): string {
  const number = amountOf(told.unit, told.value, unit);
  return told.verdict === "none" ? number : `${number}, ${verdictInWords(told, unit)}`;
}

export function verdictInWords({ verdict, unit: kind, off }: MeasureSummary, unit: LengthUnit): string {
  if (verdict === "hit") return "as it should be";
  return `${amountOf(kind, Math.abs(off ?? 0), unit)} ${verdict === "over" ? "over" : "under"}`;
}
