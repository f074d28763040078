import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState } from "react";
import type { BodySummary, Step } from "../api/types";
import { useFloor } from "../floor/context";
import {
  asType,
  idle,
  LAW_TYPES,
  round,
  typeOf,
  withHandle,
  withPoint,
  type LawName,
  type LawType,
} from "../model/laws";
import { trimmed } from "../model/units";
import { NumberField } from "../sheet/NumberField";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { LABEL, LANE } from "./frame";
import { toPixel, type Scale } from "./layout";
import { useLawDrag } from "./useLawDrag";

interface Props {
  body: Step;
  summary: BodySummary;
  name: LawName;
  title: string;
  scale: Scale;
  width: number;
}

const PAD = 9;

/** A law along the body as a curve: its handles are dragged, or typed at the left. A double click adds one. */
export function LawLane({ body, summary, name, title, scale, width }: Props) {
  const { change } = useFloor();
  const { law, handles, held, start, move, release, keep } = useLawDrag(body, name);
  const [chosen, setChosen] = useState(0);
  const [span, setSpan] = useState<[number, number] | null>(null);
  const values = summary.lanes[name];
  const fitting = range([...values, ...handles.map((h) => h.value)], name);
  const [low, high] = span ?? fitting;
  const degree = name === "twist";
  const bends = summary.lanes.bends ?? [];
  const ends = [bends[0] ?? 0, bends.at(-1) ?? 1] as const;
  const x = (share: number) => toPixel(scale, ends[0] + (ends[1] - ends[0]) * share);
  const y = (value: number) => PAD + (LANE - 2 * PAD) * (1 - (value - low) / (high - low));
  const shareAt = (pixel: number) => (pixel - x(0)) / (x(1) - x(0));
  const valueAt = (pixel: number, fine: boolean) => {
    const raw = low + (1 - (pixel - PAD) / (LANE - 2 * PAD)) * (high - low);
    const grid = (degree ? 1 : 0.01) / (fine ? 10 : 1);
    return round(Math.round(raw / grid) * grid);
  };
  const handle = handles[Math.min(chosen, handles.length - 1)];
  const say = (value: number) => (degree ? `${trimmed(value, 1)}°` : `× ${trimmed(value, 3)}`);
  const { at: places } = summary.lanes;
  const shares = places.map((place) => (place - (places[0] ?? 0)) / ((places.at(-1) ?? 1) - (places[0] ?? 0) || 1));
  const path = values.map((value, i) => `${i ? "L" : "M"}${x(shares[i] ?? 0)},${y(value)}`).join("");

  const point = (event: React.PointerEvent<SVGElement> | React.MouseEvent<SVGElement>) => {
    const box = (event.currentTarget.ownerSVGElement ?? event.currentTarget).getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const step = (index: number, way: number, large: boolean) => {
    const now = handles[index];
    if (!law || !now) return;
    const size = (degree ? 1 : 0.01) * (large ? 10 : 1);
    void keep(withHandle(law, handles, index, now.at, round(now.value + way * size)));
  };

  return (
    <Box
      role="group"
      aria-label={`${title} lane`}
      sx={{ position: "relative", height: LANE, borderTop: `1px solid ${colours.hairline}` }}
    >
      <Box sx={{ position: "absolute", left: 12, top: 2, width: LABEL + 40, zIndex: 1 }}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, fontSize: 14, fontWeight: 600 }}>
          {title}
          <Select
            variant="standard"
            disableUnderline
            value={typeOf(law)}
            onChange={(event) => void keep(asType(event.target.value as LawType, name, handles))}
            inputProps={{ "aria-label": `${title} law` }}
            sx={{ fontSize: 12, color: colours.inkSoft, "& .MuiSelect-select": { py: 0 } }}
          >
            {LAW_TYPES.map(({ type, title: words }) => (
              <MenuItem key={type} value={type}>
                {words}
              </MenuItem>
            ))}
          </Select>
        </Box>
        {handle && (
          <Box sx={{ width: 92, "& input": { py: "1px !important", fontSize: 12 } }}>
            <NumberField
              hideLabel
              label={`${title}, point ${Math.min(chosen, handles.length - 1) + 1}`}
              kind={degree ? "angle" : "number"}
              value={handle.value}
              onKeep={(value) => change([{ do: "set-param", step: body.id, path: [name, ...handle.path], value }])}
            />
          </Box>
        )}
      </Box>
      <svg
        width={width}
        height={LANE}
        style={{ display: "block", touchAction: "none" }}
        onDoubleClick={(event) => {
          const at = shareAt(point(event).x);
          if (at <= 0 || at >= 1) return;
          const nearest =
            values[
              Math.max(
                shares.findLastIndex((share) => share <= at),
                0,
              )
            ] ?? idle(name);
          setChosen(law ? handles.filter((h) => h.at < at).length : 1);
          void keep(withPoint(law, handles, at, round(nearest)));
        }}
        onPointerMove={(event) => {
          if (held === null) return;
          const p = point(event);
          move(shareAt(p.x), valueAt(p.y, event.altKey));
        }}
        onPointerUp={() => {
          release();
          setSpan(null);
        }}
      >
        <line x1={x(0)} x2={x(1)} y1={y(idle(name))} y2={y(idle(name))} stroke={colours.hairline} />
        <path
          data-testid="law-line"
          d={path}
          fill="none"
          stroke={law ? colours.ink : colours.inkSoft}
          strokeWidth={1.4}
        />
        {!law && (
          <text x={(x(0) + x(1)) / 2} y={y(idle(name)) - 5} textAnchor="middle" fontSize={12} fill={colours.inkSoft}>
            double-click to add a point
          </text>
        )}
        {handles.map((h, i) => (
          <g
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={`${title} at ${Math.round(h.at * 100)} %`}
            aria-valuenow={h.value}
            aria-valuetext={say(h.value)}
            className="law-handle"
            style={{ cursor: "grab" }}
            onFocus={() => setChosen(i)}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
              setSpan(wider(fitting, name));
              setChosen(i);
              start(i);
            }}
            onDoubleClick={(event) => {
              event.stopPropagation();
              if (law?.type !== "points") return;
              void keep({ ...law, points: law.points.map((p, k) => (k === i ? { ...p, sharp: !p.sharp } : p)) });
            }}
            onKeyDown={(event) => {
              if (event.key === "ArrowUp") step(i, 1, event.shiftKey);
              else if (event.key === "ArrowDown") step(i, -1, event.shiftKey);
              else if ((event.key === "Delete" || event.key === "Backspace") && law?.type === "points")
                void keep(law.points.length > 1 ? { ...law, points: law.points.filter((_, k) => k !== i) } : null);
              else if (event.key === "s" && law?.type === "points")
                void keep({ ...law, points: law.points.map((p, k) => (k === i ? { ...p, sharp: !p.sharp } : p)) });
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
          >
            <circle cx={x(h.at)} cy={y(h.value)} r={11} fill="transparent" />
            {h.sharp ? (
              <path
                d={`M${x(h.at)},${y(h.value) - 6}l6,6l-6,6l-6,-6Z`}
                fill={colours.panel}
                stroke={held === i || chosen === i ? colours.buoy : colours.estuary}
                strokeWidth={2}
              />
            ) : (
              <circle
                cx={x(h.at)}
                cy={y(h.value)}
                r={5}
                fill={colours.panel}
                stroke={held === i || chosen === i ? colours.buoy : colours.estuary}
                strokeWidth={2}
              />
            )}
            {held === i && (
              <text
                x={x(h.at) + 10}
                y={Math.max(12, y(h.value) - 4)}
                fontSize={12}
                fill={colours.buoyText}
                stroke={colours.panel}
                strokeWidth={3}
                paintOrder="stroke"
                style={numbers}
              >
                {say(h.value)}
              </text>
            )}
          </g>
        ))}
        <text x={width - 10} y={14} textAnchor="end" fontSize={11} fill={colours.inkSoft} style={numbers}>
          {say(fitting[1])}
        </text>
        <text x={width - 10} y={LANE - 5} textAnchor="end" fontSize={11} fill={colours.inkSoft} style={numbers}>
          {say(fitting[0])}
        </text>
      </svg>
    </Box>
  );
}

/** The values that a lane spans: never so few that a straight line looks like a slope. */
function range(values: number[], name: LawName): [number, number] {
  const low = Math.min(...values, idle(name));
  const high = Math.max(...values, idle(name));
  const least = name === "twist" ? 10 : 0.1;
  return high - low < least ? [low - least / 2, high + least / 2] : [low, high];
}

/** Room to drag into. */
function wider([low, high]: [number, number], name: LawName): [number, number] {
  const room = name === "twist" ? 30 : (high - low) / 2 + 0.25;
  return [name === "twist" ? low - room : Math.max(0.02, low - room), high + room];
}
