import Box from "@mui/material/Box";
import type { Step } from "../../api/types";
import { useFloor, useStatus } from "../../floor/context";
import { sectionSummary } from "../../model/outline";
import { colours } from "../../theme/colours";
import { sectionIn } from "../areas";
import { placesOn, type RidingPlace } from "./ridingPlaces";

const WIDE = 240;
const HIGH = 130;
const ROOM = 18;

/** The section in small: what of it rides on the path is pressed there, its middle, a corner, an edge, or any place. */
export function RidingPoint({ step }: { step: Step }) {
  const { change } = useFloor();
  const summary = sectionSummary(useStatus(sectionIn(step)));
  if (!summary?.middle || step.params["place"] === "drawn") return null;
  const places = placesOn(summary.outline, summary.middle);
  const all = [...summary.outline, ...(summary.beside ?? []).flat()];
  const [xs, ys] = [all.map(([x]) => x), all.map(([, y]) => y)];
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((WIDE - 2 * ROOM) / (right - left || 1), (HIGH - 2 * ROOM) / (high - low || 1));
  const on = ([x, y]: readonly [number, number]) =>
    [WIDE / 2 + (x - (left + right) / 2) * scale, HIGH / 2 - (y - (low + high) / 2) * scale] as const;
  const back = (x: number, y: number): [number, number] => [
    (x - WIDE / 2) / scale + (left + right) / 2,
    (low + high) / 2 - (y - HIGH / 2) / scale,
  ];
  const path = [summary.outline, ...(summary.beside ?? [])]
    .map((line) => `M${line.map((at) => on(at).join(" ")).join("L")}Z`)
    .join("");
  const rides = step.params["rides"] === "point";
  const typed = (step.params["point"] ?? [0, 0]) as [unknown, unknown];
  const here: readonly [number, number] | null = rides
    ? typeof typed[0] === "number" && typeof typed[1] === "number"
      ? [typed[0], typed[1]]
      : null
    : (places[0]?.at ?? null);
  const ride = (point: readonly [number, number] | null) =>
    void change([
      { do: "set-param", step: step.id, path: ["rides"], value: point ? "point" : "centre" },
      ...(point ? [{ do: "set-param" as const, step: step.id, path: ["point"], value: [...point] }] : []),
    ]);
  const chosen = (place: RidingPlace) =>
    here !== null &&
    rides !== place.middle &&
    Math.hypot(...([0, 1] as const).map((i) => on(place.at)[i] - on(here)[i])) < 1;
  return (
    <Box sx={{ mb: 1 }}>
      <Box component="span" id={`${step.id}-rides`} sx={{ fontSize: 14 }}>
        On the path rides
      </Box>
      <Box
        component="svg"
        role="radiogroup"
        aria-labelledby={`${step.id}-rides`}
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        onClick={(event: React.MouseEvent<SVGSVGElement>) => {
          const box = event.currentTarget.getBoundingClientRect();
          const [x, y] = back(
            ((event.clientX - box.left) / box.width) * WIDE,
            ((event.clientY - box.top) / box.height) * HIGH,
          );
          ride([Number(x.toFixed(2)), Number(y.toFixed(2))]);
        }}
        sx={{
          display: "block",
          width: "100%",
          mt: 0.5,
          border: `1px solid ${colours.hairline}`,
          borderRadius: "6px",
          bgcolor: colours.panel,
          cursor: "crosshair",
          "& [role=radio]": { cursor: "pointer", outline: "none" },
          "& [role=radio]:focus-visible circle": { stroke: colours.buoy, strokeWidth: 3 },
        }}
      >
        <path d={path} fill="#E9DFC9" fillRule="evenodd" fillOpacity={0.6} stroke={colours.ink} strokeWidth={1.4} />
        {places.map((place) => {
          const [x, y] = on(place.at);
          return (
            <g
              key={place.name}
              role="radio"
              tabIndex={0}
              aria-checked={chosen(place)}
              aria-label={place.name}
              onClick={(event) => {
                event.stopPropagation();
                ride(place.middle ? null : place.at);
              }}
              onKeyDown={(event) => {
                if (event.key !== "Enter" && event.key !== " ") return;
                event.preventDefault();
                ride(place.middle ? null : place.at);
              }}
            >
              <title>{place.name}</title>
              <circle cx={x} cy={y} r={9} fill="transparent" />
              <circle cx={x} cy={y} r={3.5} fill={colours.panel} stroke={colours.inkSoft} strokeWidth={1.2} />
            </g>
          );
        })}
        {here && (
          <g pointerEvents="none">
            <circle cx={on(here)[0]} cy={on(here)[1]} r={7} fill="none" stroke={colours.estuary} strokeWidth={2} />
            <circle cx={on(here)[0]} cy={on(here)[1]} r={2.5} fill={colours.estuary} />
          </g>
        )}
      </Box>
    </Box>
  );
}
