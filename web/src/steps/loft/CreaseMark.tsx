import type { Step } from "../../api/types";
import { useFloor, usePlace } from "../../floor/context";
import type { Stand } from "../../model/outline";
import { colours } from "../../theme/colours";
import { CREASE } from "./crease";
import { hasCrease, withCrease } from "./sections";

/** A switch at a station on the Run: whether the body bends anew there. Seen when it does, when its section is chosen, or by whoever points at it. */
export function CreaseMark({
  body,
  stand,
  number,
  x,
  y,
}: {
  body: Step;
  stand: Stand;
  number: number;
  x: number;
  y: number;
}) {
  const { change } = useFloor();
  const near = usePlace((p) => p.selected === stand.section || p.hovered === stand.section);
  const creased = hasCrease(body, number);
  const turn = () => void change(withCrease(body, number, !creased));
  return (
    <g
      role="switch"
      tabIndex={0}
      aria-checked={creased}
      aria-label={`Crease at section ${stand.number}, ${stand.name}`}
      className={creased || near ? "run-crease shown" : "run-crease"}
      transform={`translate(${x},${y})`}
      onClick={turn}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        turn();
      }}
    >
      <title>{creased ? "The body bends anew here" : "Let the body bend anew here"}</title>
      <rect x={-11} y={-11} width={22} height={22} rx={5} fill={colours.panel} stroke="none" />
      <path
        d={CREASE}
        fill="none"
        stroke={creased ? colours.buoy : colours.inkSoft}
        strokeWidth={creased ? 2.2 : 1.4}
        strokeLinejoin="round"
        strokeDasharray={creased ? undefined : "2 2"}
      />
    </g>
  );
}
