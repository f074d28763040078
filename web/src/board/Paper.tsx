import Box from "@mui/material/Box";
import { memo, useMemo, useRef } from "react";
import { useStore } from "zustand";
import type { Step } from "../api/types";
import { useBuilt, useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { PicturesUnder } from "../steps/picture/PictureUnder";
import { Beginning } from "./Beginning";
import { dimensionsOf } from "./dimension";
import type { XY } from "./drawing";
import { MeasureLabel } from "./MeasureLabel";
import { Axes, Grid, PAPER, Segment } from "./sheetLook";
import { LandingCard, LandingGhost } from "./LandingCard";
import type { Landing } from "./useLanding";
import { Combs, Handles } from "./SplineMarks";
import { OnRules, Rules } from "./Rules";
import { Slip } from "./Slip";
import { Curves, Points, Regions } from "./Things";
import { UnderlayLayer } from "./UnderlayLayer";
import type { Spot } from "./snap";
import { useDrawnAtOnce } from "./useDrawnAtOnce";
import { useLook, type Seen } from "./useLook";
import { usePen } from "./usePen";
import { pickedInWords, useSheetKeys } from "./useSheetKeys";
import { useWrongPlaces } from "./useWrongPlaces";
import type { Underlay } from "./useUnderlay";
import type { BoardState } from "./useBoard";

const NONE: readonly XY[] = [];
/** No layer of its own: with one, a browser that draws in software paints what is seen through twice where it paints a part of the sheet anew. */
const UNDER = { position: "absolute", inset: 0, pointerEvents: "none" } as const;

/** The sheet of paper: grid, underlay, the drawing in pencil and ink, what is being drawn, and what it wants next. */
export function Paper({
  section,
  board,
  underlay,
  landing,
  onBringIn,
}: {
  section: Step;
  board: BoardState;
  underlay: Underlay;
  landing: Landing;
  onBringIn: () => void;
}) {
  const { doing, drawn, loading, tool } = board;
  const { unit } = useDocument();
  const [within, seen] = useLook(board, underlay, landing.looked?.box ?? NONE);
  const hand = usePen(board, seen, underlay, landing);
  useSheetKeys(board, seen.grid, seen.flip, landing);
  const { size, look, fitted, flip, toScreen } = seen;
  const { x, y, scale } = look;
  const transform = `translate(${size.width / 2 - (flip * x) / scale} ${size.height / 2 + y / scale}) scale(${flip / scale} ${-1 / scale})`;
  const { now } = drawn;
  const conflicts = useMemo(
    () => new Set(now?.disputes.filter((d) => d.conflict).flatMap((d) => d.holds) ?? []),
    [now],
  );
  const disputed = useMemo(
    () => new Set(drawn.holds.filter((h) => conflicts.has(h.id)).flatMap((h) => h.of)),
    [drawn, conflicts],
  );
  const { picked, lit, drag, pointer } = doing;
  const chosen = useMemo(() => new Set([...picked, ...lit, ...(drag ? [drag] : [])]), [picked, lit, drag]);
  const sheet = useRef<SVGSVGElement>(null);
  useDrawnAtOnce(sheet, board, toScreen);
  const dimensions = useMemo(() => (fitted ? dimensionsOf(drawn, 26 * scale) : []), [drawn, fitted, scale]);
  const ghost = tool?.ghost && pointer ? tool.ghost(doing.picks, pointer.at, board.typed, drawn) : "";
  const wrongPlaces = useWrongPlaces(section);
  return (
    <Box
      ref={within}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const [file] = event.dataTransfer.files;
        if (file) landing.begin(file);
      }}
      sx={{ position: "absolute", inset: 0, overflow: "hidden", bgcolor: PAPER, touchAction: "none" }}
    >
      {doing.grid && (
        <svg aria-hidden width={size.width} height={size.height} style={UNDER}>
          <Grid look={look} size={size} step={seen.grid} toScreen={toScreen} />
          <Rules seen={seen} unit={unit} />
        </svg>
      )}
      <svg
        ref={sheet}
        data-testid="paper"
        data-look={`${x} ${y} ${scale}`}
        role="application"
        aria-label="Drawing sheet"
        aria-busy={doing.busy > 0 || loading || underlay.waits}
        width={size.width}
        height={size.height}
        style={{
          display: "block",
          position: "relative",
          userSelect: "none",
          cursor: tool ? "crosshair" : landing.file ? "move" : "default",
        }}
        {...hand}
      >
        <defs>
          <pattern id="hatch" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1={0} y1={0} x2={0} y2={6} stroke={colours.brick} strokeWidth={2} />
          </pattern>
        </defs>
        {doing.grid && <OnRules board={board} seen={seen} />}
        <Axes size={size} toScreen={toScreen} chosen={chosen} />
        <g transform={transform} fill="none">
          {doing.underlay && (
            <>
              <PicturesUnder section={section} scale={scale} still={tool !== null} />
              <UnderlayLayer underlay={underlay} scale={scale} tracing={tool?.id === "trace"} />
            </>
          )}
          {fitted && (
            <>
              <Regions regions={now?.regions} />
              <Curves drawn={drawn} chosen={chosen} pulled={drag !== null} disputed={disputed} />
            </>
          )}
          <LandingGhost landing={landing} />
          {ghost && (
            <path
              d={ghost}
              data-testid="ghost"
              data-numbers={Object.values(board.typed).filter(({ worth }) => worth !== null).length}
              stroke={colours.buoy}
              strokeWidth={1.6}
              strokeDasharray="5 4"
              vectorEffect="non-scaling-stroke"
              pointerEvents="none"
            />
          )}
        </g>
        <DimensionLines dimensions={dimensions} toScreen={toScreen} />
        <Combs drawn={drawn} picked={picked} toScreen={toScreen} />
        {!tool && <Handles drawn={drawn} picked={picked} toScreen={toScreen} scale={scale} />}
        {fitted && (
          <Points drawn={drawn} chosen={chosen} pulled={drag !== null} toScreen={toScreen} drawing={tool !== null} />
        )}
        {wrongPlaces.map((at, i) => (
          <g key={i} data-testid="wrong-place" pointerEvents="none" transform={`translate(${toScreen(at).join(" ")})`}>
            <circle r={11} fill={colours.brick} fillOpacity={0.14} stroke={colours.brick} strokeWidth={1.6} />
          </g>
        ))}
        {doing.box && <Gathering corners={doing.box} toScreen={toScreen} />}
        {pointer && (tool || pointer.point || drag) && pointer.way && (
          <Meant board={board} pointer={pointer} toScreen={toScreen} />
        )}
      </svg>
      {/* in the midst of drawing a number lets the click through that is meant for the sheet */}
      <div style={{ pointerEvents: doing.picks.length ? "none" : undefined }}>
        {dimensions.map(({ hold, dimension }) => {
          const [px, py] = toScreen(dimension.at);
          return (
            <MeasureLabel
              key={hold.id}
              hold={hold}
              board={board}
              x={px}
              y={py}
              wrong={conflicts.has(hold.id)}
              scale={[flip * scale, scale]}
            />
          );
        })}
      </div>
      <Slip board={board} seen={seen} />
      <LandingCard landing={landing} marks={underlay.marks} />
      {!loading && !tool && !landing.file && !drawn.curves.length && !Object.keys(drawn.points).length && (
        <Beginning section={section} onBringIn={onBringIn} />
      )}
      <Foot section={section.id} board={board} seen={seen} />
    </Box>
  );
}

/** From what is measured to where it is told. */
const DimensionLines = memo(function DimensionLines({
  dimensions,
  toScreen,
}: {
  dimensions: ReturnType<typeof dimensionsOf>;
  toScreen: (p: XY) => XY;
}) {
  return (
    <g pointerEvents="none" stroke={colours.inkSoft} fill="none">
      {dimensions.map(({ hold, dimension }) => (
        <g key={hold.id} opacity={hold.reading ? 0.5 : 0.9}>
          {dimension.line && <Segment ends={dimension.line} toScreen={toScreen} ticks />}
          {dimension.leads.map((ends, i) => (
            <Segment key={i} ends={ends} toScreen={toScreen} />
          ))}
        </g>
      ))}
    </g>
  );
});

/** The place that is meant, and why it is that one. */
function Meant({ board, pointer, toScreen }: { board: BoardState; pointer: Spot; toScreen: (p: XY) => XY }) {
  // while something is pulled the place goes with it, and what is said of it stays
  const to = useStore(board.way, (way) => way.seen);
  const at = (board.doing.drag && to) || pointer.at;
  return (
    <g pointerEvents="none" transform={`translate(${toScreen(at).join(" ")})`}>
      <circle r={6} fill="none" stroke={colours.buoy} strokeWidth={1.5} />
      <text
        x={11}
        y={-9}
        fontSize={12}
        fill={colours.buoyText}
        style={{ paintOrder: "stroke" }}
        stroke={PAPER}
        strokeWidth={4}
      >
        {pointer.way}
      </text>
    </g>
  );
}

/** The box round what is to be picked. */
function Gathering({ corners, toScreen }: { corners: readonly [XY, XY]; toScreen: (p: XY) => XY }) {
  const [[ax, ay], [bx, by]] = [toScreen(corners[0]), toScreen(corners[1])];
  return (
    <rect
      data-testid="gathering"
      x={Math.min(ax, bx)}
      y={Math.min(ay, by)}
      width={Math.abs(bx - ax)}
      height={Math.abs(by - ay)}
      fill={colours.buoy}
      fillOpacity={0.07}
      stroke={colours.buoy}
      strokeDasharray="3 3"
      pointerEvents="none"
    />
  );
}

/** Along the lower edge: the grid, what is picked or can be done, and where the hand is. */
function Foot({ section, board, seen }: { section: string; board: BoardState; seen: Seen }) {
  const { unit } = useDocument();
  const to = useStore(board.way, (way) => way.seen);
  const at = to ?? board.doing.pointer?.at;
  // a sign of it comes where it takes long enough to be wondered at
  const working = useBuilt((built) => built.working?.step === section) || board.doing.busy > 0;
  const number = (value: number) => lengthNumber(value, unit);
  const rest = board.drawn.curves.length
    ? "Pull what is drawn, or drag round it to pick it. The right button moves the sheet."
    : "Choose a tool and draw, by hand or by numbers.";
  return (
    <Box
      sx={{
        position: "absolute",
        inset: "auto 8px 6px 8px",
        display: "flex",
        gap: 2,
        fontSize: 12,
        color: colours.inkSoft,
        pointerEvents: "none",
        "@keyframes come": { to: { opacity: 1 } },
        "& > *": { whiteSpace: "nowrap", textShadow: `0 0 3px ${PAPER}, 0 0 3px ${PAPER}` },
      }}
    >
      <Box component="span" sx={numbers}>
        grid {number(seen.grid.fine)} {unit}
      </Box>
      {working && (
        <Box
          component="span"
          role="status"
          aria-label="Working"
          sx={{ opacity: 0, animation: "come 0.2s 0.4s forwards" }}
        >
          working it out
        </Box>
      )}
      <Box component="span" role="status" aria-label="Picked" sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>
        {board.tool ? "" : pickedInWords(board) || rest}
      </Box>
      <Box component="span" sx={{ ...numbers, ml: "auto" }}>
        {at ? `x ${number(at[0])}  y ${number(at[1])}` : ""}
      </Box>
    </Box>
  );
}
