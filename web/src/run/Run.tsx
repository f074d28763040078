import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useDocument, useFloor, useOutline, usePlace } from "../floor/context";
import type { Stand } from "../model/outline";
import { length, lengthNumber, millimetres } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { commonSize, scaleOf, spread, THUMB, thumbPath, ticks, toPixel, type Scale } from "./layout";
import "./run.css";
import { useStationDrag } from "./useStationDrag";

const LABEL = 104;
const MARGIN = 64;
const TOP = 24;
const AXIS = 112;
const HEIGHT = 158;

/** The length of the active body from end to end, its sections standing on it. */
export const Run = memo(function Run() {
  const { unit } = useDocument();
  const outline = useOutline();
  const selected = usePlace((p) => p.selected);
  const active =
    outline.groups.find((g) => g.body.id === selected || g.stands.some((s) => s.section === selected)) ??
    outline.groups[0];
  const stands = active?.stands.length ? active.stands : outline.loose;
  const holder = useRef<HTMLDivElement>(null);
  const width = useWidth(holder);
  const long = stands.length > 1 ? Math.max(...stands.map((s) => s.at)) - Math.min(...stands.map((s) => s.at)) : 0;

  return (
    <Box ref={holder} sx={{ position: "relative", height: "100%", userSelect: "none" }}>
      <Box sx={{ position: "absolute", left: 16, top: 14, width: LABEL - 24 }}>
        <Typography variant="h3">Run</Typography>
        <Typography variant="body2" color="text.secondary" sx={numbers} data-testid="run-length">
          {length(long, unit)}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {active?.body.name}
        </Typography>
      </Box>
      {stands.length === 0 ? (
        <Typography
          color="text.secondary"
          sx={{ position: "absolute", left: LABEL, right: 24, top: 70, textAlign: "center" }}
        >
          Here the body lies from end to end. Draw a section and it stands on this line, to be dragged along it.
        </Typography>
      ) : (
        width > 0 && <Strip stands={stands} width={width} />
      )}
    </Box>
  );
});

function useWidth(holder: React.RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [holder]);
  return width;
}

function Strip({ stands, width }: { stands: Stand[]; width: number }) {
  const { unit } = useDocument();
  const { drag, start, move, release, nudge } = useStationDrag();
  const fitting = scaleOf(stands, LABEL + MARGIN, width - LABEL - 2 * MARGIN);
  const [frozen, setFrozen] = useState<Scale | null>(null);
  // while a station is dragged the ruler holds still under it
  const scale = frozen ?? fitting;
  const at = (stand: Stand) => (drag?.section === stand.section ? drag.at : stand.at);
  const pixels = stands.map((stand) => toPixel(scale, at(stand)));
  const thumbs = spread(pixels, LABEL + THUMB / 2, width - THUMB / 2 - 8);
  const common = useMemo(() => commonSize(stands), [stands]);
  const mm = millimetres(unit);
  const ruler = ticks(scale.low / mm, scale.high / mm, 10);
  const fine = ticks(scale.low / mm, scale.high / mm, 40);

  return (
    <svg
      width={width}
      height={HEIGHT}
      role="group"
      aria-label="Sections along the body"
      style={{ display: "block", touchAction: "none" }}
      onPointerMove={(event) => move(event.clientX, event.altKey)}
      onPointerUp={() => {
        release();
        setFrozen(null);
      }}
      onLostPointerCapture={() => setFrozen(null)}
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
      {stands.map((stand, i) => (
        <Station
          key={stand.section}
          stand={stand}
          at={at(stand)}
          x={pixels[i] ?? 0}
          thumb={thumbs[i] ?? 0}
          common={common}
          held={drag?.section === stand.section}
          onStart={(x) => {
            setFrozen(fitting);
            start(stand, fitting, x);
          }}
          onNudge={(direction, large) => nudge(stand, direction, large)}
        />
      ))}
    </svg>
  );
}

interface StationProps {
  stand: Stand;
  at: number;
  x: number;
  thumb: number;
  common: { middle: [number, number]; size: number };
  held: boolean;
  onStart: (x: number) => void;
  onNudge: (direction: number, large: boolean) => void;
}

function Station({ stand, at, x, thumb, common, held, onStart, onNudge }: StationProps) {
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
            d={thumbPath(stand.outline, stand.closed, common.middle, common.size)}
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
          ▲ needs you
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
        {lengthNumber(at, unit)}
      </text>
    </g>
  );
}
