import { useDocument, useFloor, usePlace } from "../floor/context";
import type { Stand } from "../model/outline";
import { length, lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { AXIS, TOP } from "./frame";
import { THUMB, thumbPath } from "./layout";

interface Props {
  stand: Stand;
  at: number;
  x: number;
  thumb: number;
  common: { middle: [number, number]; size: number };
  held: boolean;
  /** Another station's number stands too near for this one's. */
  crowded: boolean;
  onStart: (x: number) => void;
  onNudge: (direction: number, large: boolean) => void;
}

/** A section on the Run: its thumbnail, and the weight that it hangs from on the axis. */
export function RunStation({ stand, at, x, thumb, common, held, crowded, onStart, onNudge }: Props) {
  const { place } = useFloor();
  const { unit } = useDocument();
  const chosen = usePlace((p) => p.selected === stand.section);
  const pointed = usePlace((p) => p.hovered === stand.section);
  const lit = held || chosen;
  const line = lit ? colours.buoy : pointed ? colours.estuary : colours.brass;
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`Section ${stand.number}, ${stand.name}`}
      aria-valuenow={at}
      aria-valuetext={length(at, unit)}
      aria-orientation="horizontal"
      data-section={stand.section}
      className="run-station"
      style={{ cursor: held ? "grabbing" : "grab" }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
        onStart(event.clientX);
      }}
      onPointerEnter={() => place.setState({ hovered: stand.section })}
      onPointerLeave={() => place.setState({ hovered: null })}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") place.setState({ selected: stand.section });
        else if (event.key === "ArrowRight" || event.key === "ArrowUp") onNudge(1, event.shiftKey);
        else if (event.key === "ArrowLeft" || event.key === "ArrowDown") onNudge(-1, event.shiftKey);
        else return;
        event.preventDefault();
      }}
    >
      <path
        d={`M${thumb},${TOP + THUMB + 1}L${x},${AXIS - 14}L${x},${AXIS}`}
        fill="none"
        stroke={line}
        strokeWidth={lit ? 1.6 : 1}
      />
      <path
        d={`M${thumb},${TOP + THUMB}L${x},${AXIS - 14}L${x},${AXIS + 30}`}
        fill="none"
        stroke="transparent"
        strokeWidth={16}
        pointerEvents="stroke"
      />
      <circle cx={x} cy={AXIS} r={5} fill={colours.panel} stroke={line} strokeWidth={2} />
      <rect
        x={thumb - THUMB / 2}
        y={TOP}
        width={THUMB}
        height={THUMB}
        rx={5}
        fill={lit ? colours.buoyWash : colours.panel}
        stroke={line}
        strokeWidth={lit ? 2 : 1.2}
      />
      <g transform={`translate(${thumb},${TOP + THUMB / 2})`} pointerEvents="none">
        {stand.outline.length > 1 ? (
          <path
            d={[stand.outline, ...stand.beside]
              .map((points) => thumbPath(points, stand.closed, common.middle, common.size))
              .join("")}
            fillRule="evenodd"
            fill={stand.closed ? "#EEE6D5" : "none"}
            stroke={colours.ink}
            strokeWidth={1.2}
            strokeLinejoin="round"
          />
        ) : (
          <circle r={2.5} fill={colours.ink} />
        )}
      </g>
      <circle cx={thumb + THUMB / 2 - 2} cy={TOP + 1} r={9} fill={lit ? colours.buoy : colours.brassText} />
      <text
        x={thumb + THUMB / 2 - 2}
        y={TOP + 5}
        textAnchor="middle"
        fontSize={11}
        fontWeight={500}
        fill="#fff"
        style={numbers}
      >
        {stand.number}
      </text>
      {stand.state === "failed" && (
        <text x={thumb - THUMB / 2 + 2} y={TOP - 4} fontSize={12} fontWeight={600} fill={colours.brick}>
          needs you
        </text>
      )}
      <text
        x={x}
        y={AXIS + 26}
        textAnchor="middle"
        fontSize={13}
        fontWeight={lit ? 500 : 400}
        fill={lit ? colours.buoyText : colours.ink}
        stroke={colours.panel}
        strokeWidth={4}
        paintOrder="stroke"
        style={numbers}
      >
        {crowded && !lit ? "" : lengthNumber(at, unit)}
      </text>
    </g>
  );
}
