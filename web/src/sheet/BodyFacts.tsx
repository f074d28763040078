import type { Step } from "../api/types";
import { useBuilt, useDocument, useStatus } from "../floor/context";
import { finishOf, inertiaInWords, massInWords } from "../model/finish";
import { meetingInWords } from "../model/meeting";
import { amount, area, box, length } from "../model/units";
import { Facts } from "./Facts";

const MEETS = { first: "Where it begins", second: "Where it ends", round: "All round it" } as const;

const FROM = { surfaces: "its surfaces", kernel: "the exact body", mesh: "the preview" } as const;

/** What is known of a body: measures, quality of the skin, and whether the kernel takes it for a solid. */
export function BodyFacts({ step }: { step: Step }) {
  const { unit, steps } = useDocument();
  const statuses = useBuilt((built) => built.steps);
  const status = useStatus(step.id);
  const solid = useBuilt((built) => built.solids[step.id]);
  if (status?.summary?.result !== "body") return null;
  const { summary } = status;
  const finish = finishOf(step, steps, statuses);
  const mass = massInWords(summary, finish);
  const skin = area(summary.area, unit);
  const run = summary.run ?? [];
  const wring = Math.max(0, ...run.map((item) => Math.abs(item.wring)));
  const what = summary.closed ? "solid" : "sheet";
  const pieces = summary.pieces === 1 ? `yes, one ${what}` : `yes, ${summary.pieces} ${what}s`;
  const open = solid?.findings.some(({ code }) => code === "skin-open");
  const verdict = status.rough || solid?.key !== status.key ? "checking…" : solid.valid && !open ? pieces : "no";
  return (
    <Facts
      facts={[
        ...(summary.closed ? ([amount(summary, unit)] as [string, string][]) : []),
        ...(mass ? ([[`Mass, ${finish?.material ?? ""}`, mass]] as [string, string][]) : []),
        ...(summary.wall
          ? ([
              ["Wall, least", length(summary.wall.least, unit)],
              ["Wall, largest", length(summary.wall.largest, unit)],
              ["Wall, mean", `${length(summary.wall.mean, unit)} at ${summary.wall.places} places`],
            ] as [string, string][])
          : []),
        ...(summary.bridged ?? []).map((end): [string, string] => [MEETS[end.end], meetingInWords(end)]),
        ...(summary.simplified
          ? ([
              ["Simplified", `${summary.simplified.rows} rows, off by ${length(summary.simplified.off, unit)} at most`],
            ] as [string, string][])
          : []),
        [summary.closed ? "Surface" : "Area of the sheet", `${skin.value} ${skin.unit}`],
        [
          "Box",
          box(
            summary.high.map((high, i) => high - (summary.low[i] ?? 0)),
            unit,
          ),
        ],
        ["Centre, along z", length(summary.center[2], unit)],
        ...inertiaInWords(summary, finish).map((told, i): [string, string] => [`Inertia about ${"xyz"[i]}`, told]),
        ...(run.length
          ? ([
              ["Wring between sections", `${wring.toFixed(1)}°`],
              ["Folds", String(summary.folds ?? 0)],
            ] as [string, string][])
          : []),
        ["Numbers from", FROM[status.rough ? "mesh" : summary.source]],
        [summary.closed ? "Watertight" : "Valid", verdict],
      ]}
    />
  );
}
