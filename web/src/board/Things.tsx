import { memo } from "react";
import { colours } from "../theme/colours";
import { named, type Drawn, type XY } from "./drawing";

const PENCIL = "#7C8185";

interface Shown {
  drawn: Drawn;
  /** What is picked, or lit. */
  chosen: ReadonlySet<string>;
}

/** The areas that the drawing encloses. */
export const Regions = memo(function Regions({ drawn }: { drawn: Drawn }) {
  return drawn.now?.regions.map((r) => (
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

/** Everything that is drawn: pencil where it can still move, ink where it is held, hatched brick where it is at odds. disputed: what is. */
export const Curves = memo(function Curves({ drawn, chosen, disputed }: Shown & { disputed: ReadonlySet<string> }) {
  return drawn.now?.curves.map((c) => {
    const lit = chosen.has(c.id);
    const wrong = disputed.has(c.id);
    return (
      <g key={c.id} data-curve={c.id} data-held={c.held} role="img" aria-label={named(drawn, c.id)}>
        <path
          d={c.path}
          stroke="transparent"
          strokeWidth={11}
          vectorEffect="non-scaling-stroke"
          pointerEvents="stroke"
        />
        {wrong && (
          <path
            d={c.path}
            stroke="url(#hatch)"
            strokeWidth={7}
            vectorEffect="non-scaling-stroke"
            pointerEvents="none"
          />
        )}
        <path
          d={c.path}
          stroke={lit ? colours.buoy : wrong ? colours.brick : c.held ? colours.ink : PENCIL}
          strokeWidth={c.construction ? 1 : lit ? 2.6 : c.held ? 2.2 : 1.8}
          strokeDasharray={c.construction ? "12 4 2 4" : c.held || lit ? undefined : "0.1 3.4"}
          strokeLinecap="round"
          vectorEffect="non-scaling-stroke"
          pointerEvents="none"
        />
      </g>
    );
  });
});

/** The points of the drawing, as large at every zoom. */
export const Points = memo(function Points({
  drawn,
  chosen,
  toScreen,
  drawing,
}: Shown & { toScreen: (p: XY) => XY; drawing: boolean }) {
  const held = new Set(drawn.now?.held ?? []);
  return Object.entries(drawn.points).map(([id, at]) => {
    const [px, py] = toScreen(at);
    const lit = chosen.has(id);
    return (
      <g key={id} data-point={id} data-held={held.has(id)} style={{ cursor: drawing ? "crosshair" : "grab" }}>
        <circle cx={px} cy={py} r={9} fill="transparent" />
        <circle
          cx={px}
          cy={py}
          r={4}
          fill={lit ? colours.buoy : held.has(id) ? colours.ink : colours.panel}
          stroke={lit ? colours.buoy : held.has(id) ? colours.ink : PENCIL}
          strokeWidth={1.6}
        />
      </g>
    );
  });
});
