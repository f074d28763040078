import type { Step } from "../api/types";
import { useBuilt, useDocument, useStatus } from "../floor/context";
import { area, box, length, volume } from "../model/units";
import { Facts } from "./Facts";

/** What is known of a body: measures, quality of the skin, and whether the kernel takes it for a solid. */
export function BodyFacts({ step }: { step: Step }) {
  const { unit } = useDocument();
  const status = useStatus(step.id);
  const solid = useBuilt((built) => built.solids[step.id]);
  if (status?.summary?.result !== "body") return null;
  const { summary } = status;
  const held = volume(summary.volume, unit);
  const skin = area(summary.area, unit);
  const wring = Math.max(...summary.run.map((item) => Math.abs(item.wring)));
  const verdict = solid?.key !== status.key ? "checking…" : solid.valid ? "one valid solid" : "no solid";
  return (
    <Facts
      facts={[
        ["Volume", `${held.value} ${held.unit}`],
        ["Surface", `${skin.value} ${skin.unit}`],
        [
          "Box",
          box(
            summary.high.map((high, i) => high - (summary.low[i] ?? 0)),
            unit,
          ),
        ],
        ["Centre, along z", length(summary.center[2], unit)],
        ["Wring between sections", `${wring.toFixed(1)}°`],
        ["Folds", String(summary.folds)],
        ["Kernel", verdict],
      ]}
    />
  );
}
