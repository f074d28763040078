import { colours } from "../theme/colours";
import type { Underlay } from "./useUnderlay";

/** What lies under the drawing, in thin lines: other sections, bodies, and where rails pass. scale: mm for each pixel. */
export function UnderlayLayer({ underlay, scale, tracing }: { underlay: Underlay; scale: number; tracing: boolean }) {
  return (
    <>
      {underlay.ghosts.map((g) => (
        <path
          key={g.id}
          data-ghost={g.id}
          d={g.path}
          stroke={colours.inkSoft}
          strokeOpacity={0.45}
          strokeDasharray="7 5"
          pointerEvents="none"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {tracing &&
        underlay.edges.map((e) => (
          <g key={`${e.step} ${e.part}`} data-trace={`${e.step}|${e.part}`} style={{ cursor: "pointer" }}>
            <path
              d={e.path}
              stroke="transparent"
              strokeWidth={11}
              vectorEffect="non-scaling-stroke"
              pointerEvents="stroke"
            />
            <path
              d={e.path}
              stroke={colours.estuary}
              strokeWidth={1.6}
              vectorEffect="non-scaling-stroke"
              pointerEvents="none"
            />
          </g>
        ))}
      {underlay.round && (
        <path
          d={underlay.round}
          stroke={colours.inkSoft}
          strokeOpacity={0.6}
          vectorEffect="non-scaling-stroke"
          data-testid="seen-round"
          pointerEvents="none"
        />
      )}
      {underlay.marks.map(({ id, name, at }, i) => (
        <path
          key={`${id} ${i}`}
          d={`M${at[0] - 5 * scale} ${at[1]}h${10 * scale}M${at[0]} ${at[1] - 5 * scale}v${10 * scale}`}
          stroke={colours.estuary}
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          data-rail={id}
          pointerEvents="none"
        >
          <title>{name}</title>
        </path>
      ))}
      {underlay.cut && (
        <path
          d={underlay.cut}
          stroke={colours.brass}
          strokeWidth={1.2}
          vectorEffect="non-scaling-stroke"
          data-testid="body-cut"
          pointerEvents="none"
        />
      )}
    </>
  );
}
