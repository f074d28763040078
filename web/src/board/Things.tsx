import { memo, useState } from "react";
import { colours } from "../theme/colours";
import { named, type Drawn, type DrawingSummary, type XY } from "./drawing";

const PENCIL = "#7C8185";

interface Shown {
  drawn: Drawn;
  /** What is picked, or lit. */
  chosen: ReadonlySet<string>;
  /** Whether something is being pulled. */
  pulled: boolean;
}

/** The areas that the drawing encloses. */
export const Regions = memo(function Regions({ regions }: { regions: DrawingSummary["regions"] | undefined }) {
  return regions?.map((r) => (
    <path
      key={r.name}
      d={r.path}
      data-region={r.name}
      fill={r.used ? "#E9DFC9" : "#EFEBDF"}
      fillOpacity={r.used ? 0.6 : 0.35}
      fillRule="evenodd"
      stroke="none"
    />
  ));
});

interface Look {
  id: string;
  lit: boolean;
  held: boolean;
  pulled: boolean;
}

/** Where something is reached for: while something is pulled nothing else is, and it may stay where it was. */
function useReach(place: string, pulled: boolean): string {
  const [reached, setReached] = useState(place);
  if (!pulled && reached !== place) setReached(place);
  return reached;
}

/** One curve: pencil where it can still move, ink where it is held, hatched brick where it is at odds. */
const Stroke = memo(function Stroke({
  id,
  path,
  name,
  lit,
  held,
  wrong,
  construction,
  pulled,
}: Look & { path: string; name: string; wrong: boolean; construction: boolean }) {
  const reached = useReach(path, pulled);
  return (
    <g data-curve={id} data-held={held} role="img" aria-label={name}>
      <path
        data-reach
        d={reached}
        stroke="transparent"
        strokeWidth={11}
        vectorEffect="non-scaling-stroke"
        pointerEvents="stroke"
      />
      {wrong && (
        <path d={path} stroke="url(#hatch)" strokeWidth={7} vectorEffect="non-scaling-stroke" pointerEvents="none" />
      )}
      <path
        d={path}
        stroke={lit ? colours.buoy : wrong ? colours.brick : held ? colours.ink : PENCIL}
        strokeWidth={construction ? 1 : lit ? 2.6 : held ? 2.2 : 1.8}
        strokeDasharray={construction ? "12 4 2 4" : held || lit ? undefined : "0.1 3.4"}
        strokeLinecap="round"
        vectorEffect="non-scaling-stroke"
        pointerEvents="none"
      />
    </g>
  );
});

/** Everything that is drawn; what stays as it was is not drawn anew. disputed: what is at odds. */
export const Curves = memo(function Curves({
  drawn,
  chosen,
  pulled,
  disputed,
}: Shown & { disputed: ReadonlySet<string> }) {
  return drawn.now?.curves.map(({ id, path, held, construction }) => (
    <Stroke
      key={id}
      id={id}
      path={path}
      name={named(drawn, id)}
      lit={chosen.has(id)}
      held={held}
      pulled={pulled}
      wrong={disputed.has(id)}
      construction={construction}
    />
  ));
});

/** One point, as large at every zoom. */
const Dot = memo(function Dot({
  id,
  x,
  y,
  lit,
  held,
  pulled,
  drawing,
}: Look & { x: number; y: number; drawing: boolean }) {
  const place = `translate(${x} ${y})`;
  const reached = useReach(place, pulled);
  const ink = lit ? colours.buoy : held ? colours.ink : null;
  return (
    <g data-point={id} data-held={held} style={{ cursor: drawing ? "crosshair" : "grab" }}>
      <circle data-reach transform={reached} r={9} fill="transparent" />
      <circle transform={place} r={4} fill={ink ?? colours.panel} stroke={ink ?? PENCIL} strokeWidth={1.6} />
    </g>
  );
});

/** The points of the drawing. */
export const Points = memo(function Points({
  drawn,
  chosen,
  pulled,
  toScreen,
  drawing,
}: Shown & { toScreen: (p: XY) => XY; drawing: boolean }) {
  const held = new Set(drawn.now?.held ?? []);
  return Object.entries(drawn.points).map(([id, at]) => {
    const [x, y] = toScreen(at);
    return (
      <Dot key={id} id={id} x={x} y={y} lit={chosen.has(id)} held={held.has(id)} pulled={pulled} drawing={drawing} />
    );
  });
});
