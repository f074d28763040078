import { useMemo } from "react";
import type { Step } from "../api/types";
import { useFindings, useStatus } from "../floor/context";
import { sheetOf } from "../model/outline";
import type { XY } from "./drawing";
import { intoDrawing } from "./placed";

/** Where on the sheet something is wrong with a section. */
export function useWrongPlaces(section: Step): XY[] {
  const findings = useFindings(section.id);
  const own = sheetOf(useStatus(section.id));
  return useMemo(() => {
    if (!own) return [];
    const into = intoDrawing(own, section);
    return findings.filter((finding) => finding.severity !== "note").flatMap((f) => (f.where?.points ?? []).map(into));
  }, [findings, own, section]);
}
