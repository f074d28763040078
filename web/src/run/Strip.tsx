import { useMemo, useRef } from "react";
import { api } from "../api/client";
import type { Step } from "../api/types";
import { useDocument, useFloor, usePlace } from "../floor/context";
import type { Stand } from "../model/outline";
import { lengthNumber, millimetres } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { AXIS, LABEL, STRIP } from "./frame";
import { commonSize, spread, THUMB, ticks, toMm, toPixel, type Scale } from "./layout";
import { RunStation } from "./RunStation";
import { CreaseMark } from "../steps/loft/CreaseMark";
import { canCrease, hasSlack, slackOf } from "../steps/loft/sections";
import { useStationDrag } from "./useStationDrag";

interface Props {
  stands: Stand[];
  width: number;
  scale: Scale;
  /** The body that sections can be cut from, if there is one. */
  body: Step | null;
  /** Where a ring comes back to where it began, mm; null for what has two ends. */
  ring: number | null;
  onHold: () => void;
  onRelease: () => void;
}

/** Sections on the axis of the body: dragged along it, opened, or cut anew by a click between two of them. */
export function Strip({ stands, width, scale, body, ring, onHold, onRelease }: Props) {
  const { unit } = useDocument();
  const { drag, start, move, release, nudge } = useStationDrag();
  const from = useRef(0);
  const at = (stand: Stand) => (drag?.section === stand.section ? drag.at : stand.at);
  const pixels = stands.map((stand) => toPixel(scale, at(stand)));
  // from each section to the next; of a ring the last bay ends where it began
  const back = ring === null ? null : toPixel(scale, ring);
  const bays = pixels.map((from, i) => {
    const next = pixels[i + 1];
    const to = next !== undefined && (next > from || back === null) ? next : back;
    return to === null ? null : { from, to };
  });
  const thumbs = spread(pixels, LABEL + THUMB / 2, width - THUMB / 2 - 8);
  const common = useMemo(() => commonSize(stands), [stands]);
  const mm = millimetres(unit);
  const ruler = ticks(scale.low / mm, scale.high / mm, 10);
  const fine = ticks(scale.low / mm, scale.high / mm, 40);

  return (
    <svg
      width={width}
      height={STRIP}
      role="group"
      aria-label="Sections along the body"
      style={{ display: "block", touchAction: "none" }}
      onPointerMove={(event) => move(event.clientX - from.current, event.altKey)}
      onPointerUp={(event) => {
        release(event.timeStamp);
        onRelease();
      }}
      onLostPointerCapture={onRelease}
    >
      <line
        x1={toPixel(scale, scale.low)}
        x2={toPixel(scale, scale.high)}
        y1={AXIS}
        y2={AXIS}
        stroke={colours.ink}
        strokeWidth={1.2}
      />
      {fine.map((t) => (
        <line
          key={t}
          x1={toPixel(scale, t * mm)}
          x2={toPixel(scale, t * mm)}
          y1={AXIS}
          y2={AXIS + 4}
          stroke={colours.ink}
          strokeWidth={0.7}
        />
      ))}
      {ruler.map((t) => {
        const x = toPixel(scale, t * mm);
        return (
          <g key={t}>
            <line x1={x} x2={x} y1={AXIS} y2={AXIS + 8} stroke={colours.ink} strokeWidth={1} />
            {pixels.every((pixel) => Math.abs(pixel - x) > 34) && (
              <text x={x} y={AXIS + 25} textAnchor="middle" fontSize={11} fill={colours.inkSoft} style={numbers}>
                {lengthNumber(t * mm, unit)}
              </text>
            )}
          </g>
        );
      })}
      {body &&
        hasSlack(body) &&
        bays.map((bay, i) => bay && <SlackArc key={stands[i]?.section} slack={slackOf(body, i)} {...bay} />)}
      {back !== null && <BackAgain x={back} number={stands.find((s) => s.at < 1e-6)?.number ?? 1} />}
      {body && <CutMark body={body} scale={scale} />}
      {stands.map((stand, i) => (
        <RunStation
          key={stand.section}
          stand={stand}
          at={at(stand)}
          x={pixels[i] ?? 0}
          thumb={thumbs[i] ?? 0}
          common={common}
          held={drag?.section === stand.section}
          crowded={pixels.some((p, k) => k > i && Math.abs(p - (pixels[i] ?? 0)) < 34)}
          onStart={(x) => {
            onHold();
            from.current = x;
            start(stand, toMm(scale, 1));
          }}
          onNudge={(direction, large) => nudge(stand, direction, large)}
        />
      ))}
      {body &&
        stands.map(
          (stand, i) =>
            canCrease(body, i) && (
              <CreaseMark
                key={stand.section}
                body={body}
                stand={stand}
                number={i}
                x={(pixels[i] ?? 0) + 18}
                y={AXIS - 23}
              />
            ),
        )}
    </svg>
  );
}

/** Where a ring comes back to the section that it began with. */
function BackAgain({ x, number }: { x: number; number: number }) {
  return (
    <g data-testid="back-again">
      <title>{`Here the ring comes back to section ${number}`}</title>
      <line x1={x} x2={x} y1={AXIS - 16} y2={AXIS + 8} stroke={colours.brass} strokeWidth={1.2} strokeDasharray="2 2" />
      <circle cx={x} cy={AXIS - 26} r={10} fill={colours.panel} stroke={colours.brass} strokeDasharray="2 2" />
      <text x={x} y={AXIS - 22} textAnchor="middle" fontSize={11} fill={colours.inkSoft} style={numbers}>
        {number}
      </text>
    </g>
  );
}

/** A bay that may swell: the higher the arc, the more slack. */
function SlackArc({ slack, from, to }: { slack: number; from: number; to: number }) {
  if (!slack) return null;
  return (
    <path
      d={`M${from},${AXIS}Q${(from + to) / 2},${AXIS - 28 * slack},${to},${AXIS}`}
      fill={colours.brass}
      fillOpacity={0.18}
      stroke={colours.brass}
      strokeWidth={1.2}
      pointerEvents="none"
    >
      <title>{`Slack ${Math.round(100 * slack)} %`}</title>
    </path>
  );
}

/** The axis between two stations: pointing at it offers a cut there, a click makes it. */
function CutMark({ body, scale }: { body: Step; scale: Scale }) {
  const { cut } = useFloor();
  const { unit } = useDocument();
  const pointed = usePlace((p) => (p.pointed?.body === body.id ? p.pointed.at : null));
  const mm = millimetres(unit);
  const grid = 0.5 * (unit === "in" ? mm / 16 : 1);
  const place = pointed === null ? null : Math.round(pointed / grid) * grid;
  return (
    <g
      className="run-cut"
      data-testid="cut"
      onClick={() => {
        if (place !== null) void cut((base, design) => api.cut(design, base, body.id, place));
      }}
    >
      <rect x={scale.left} y={AXIS - 12} width={scale.width} height={24} fill="transparent" />
      {place !== null && (
        <g pointerEvents="none" className="run-cut-mark">
          <circle cx={toPixel(scale, place)} cy={AXIS} r={8} fill={colours.estuary} />
          <path d={`M${toPixel(scale, place) - 4},${AXIS}h8m-4,-4v8`} stroke="#fff" strokeWidth={1.6} />
          <text
            x={toPixel(scale, place)}
            y={AXIS - 14}
            textAnchor="middle"
            fontSize={12}
            fill={colours.estuary}
            stroke={colours.panel}
            strokeWidth={4}
            paintOrder="stroke"
          >
            cut a section at <tspan style={numbers}>{lengthNumber(place, unit)}</tspan>
          </text>
        </g>
      )}
    </g>
  );
}
