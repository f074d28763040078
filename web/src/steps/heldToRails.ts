import type { Built } from "../api/built";
import type { Edit, Step } from "../api/types";
import { apart, type Hold, type XY } from "../board/drawing";
import { refersTo } from "../model/order";
import { sheetOf } from "../model/outline";

/** How a drawing does without rails that its points are held to: they stay where they are. null: it needs more of what goes than that. */
export function withoutHeldRails(step: Step, gone: ReadonlySet<string>, now: Built["steps"]): Edit[] | null {
  const shape = step.params["shape"] as { holds?: Hold[] } | undefined;
  const led = (shape?.holds ?? []).filter(({ rail }) => gone.has(rail?.step ?? ""));
  const others = { ...step.params, shape: { ...shape, holds: shape?.holds?.filter((hold) => !led.includes(hold)) } };
  if (!led.length || refersTo(others, gone)) return null;
  const points = sheetOf(now[step.id])?.drawing?.points ?? {};
  return [
    {
      do: "draw",
      step: step.id,
      acts: [...stillThere(led, points), { act: "drop", things: led.map(({ id }) => id) }],
    },
  ];
}

/** Acts after which points are written down where their rails pass now, not where they did when they were held to them. */
export function stillThere(
  holds: readonly Hold[],
  points: Readonly<Record<string, XY>>,
): Extract<Edit, { do: "draw" }>["acts"] {
  return holds.flatMap(({ type, of, rail, at }) => {
    const there = points[of[0] ?? ""];
    if (type !== "passes" || !rail || !at || !there || apart(at, there) < 1e-6) return [];
    return [
      { act: "hold" as const, type, of, rail: { step: rail.step }, at: [there[0], there[1]] as [number, number] },
    ];
  });
}
