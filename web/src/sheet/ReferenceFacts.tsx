import type { Step } from "../api/types";
import { useDocument, useStatus } from "../floor/context";
import { area, box, volume } from "../model/units";
import { Facts } from "./Facts";

/** What is known of a mesh that is only there to be looked at. */
export function ReferenceFacts({ step }: { step: Step }) {
  const { unit } = useDocument();
  const status = useStatus(step.id);
  if (status?.summary?.result !== "reference") return null;
  const { summary } = status;
  const skin = area(summary.area, unit);
  const held = summary.volume === null ? null : volume(summary.volume, unit);
  return (
    <Facts
      facts={[
        [
          "Box",
          box(
            summary.high.map((high, i) => high - (summary.low[i] ?? 0)),
            unit,
          ),
        ],
        ["Surface", `${skin.value} ${skin.unit}`],
        held ? ["Volume", `${held.value} ${held.unit}`] : ["Volume", "none: it is not closed"],
        ["Triangles", summary.triangles.toLocaleString("en")],
      ]}
    />
  );
}
