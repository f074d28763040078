import type { Step } from "../../api/types";
import { useBuilt, useDocument } from "../../floor/context";
import { sectionSummary } from "../../model/outline";
import { area, length } from "../../model/units";
import { Facts } from "../../sheet/Facts";

/** Area and girth of a section, and how the body meets it. */
export function SectionFacts({ step }: { step: Step }) {
  const { unit, steps } = useDocument();
  const statuses = useBuilt((built) => built.steps);
  const summary = sectionSummary(statuses[step.id]);
  if (!summary || summary.shape === "point") return null;
  const facts: [string, string][] = [];
  const surface = area(summary.area, unit);
  if (summary.closed) facts.push(["Area", `${surface.value} ${surface.unit}`]);
  facts.push([summary.closed ? "Girth" : "Length, open", length(summary.girth, unit)]);
  const { fitted } = summary;
  if (fitted) facts.push(["Fitted", `${fitted.scale.toFixed(4)} times, turned ${fitted.turn.toFixed(2)}°`]);
  for (const body of steps) {
    const shown = statuses[body.id]?.summary;
    const stand = shown?.result === "body" ? shown.run?.find((item) => item.section === step.id) : undefined;
    if (stand) facts.push(["Met within", stand.deviation < 1e-6 ? "exactly" : `${stand.deviation.toFixed(4)} mm`]);
  }
  return <Facts facts={facts} />;
}
