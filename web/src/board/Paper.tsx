import Box from "@mui/material/Box";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from "react";
import type { Step } from "../api/types";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { apart, type Curve, type XY } from "./drawing";
import { dimensionsOf } from "./dimension";
import { MeasureLabel } from "./MeasureLabel";
import { PicturesUnder } from "../steps/picture/PictureUnder";
import { extentOf, fit, Grid, gridStep, Segment, type Look } from "./sheetLook";
import { snap, type Spot } from "./snap";
import { UnderlayLayer } from "./UnderlayLayer";
import { useWrongPlaces } from "./useWrongPlaces";
import type { Underlay } from "./useUnderlay";
import type { BoardState } from "./useBoard";

const NEAR = 9;
/** Pixels within which two picks in a row are one. */
const SAME = 3;

/** The sheet of paper: grid, underlay, the drawing in pencil and ink, and what is being drawn. */
export function Paper({ section, board, underlay }: { section: Step; board: BoardState; underlay: Underlay }) {
  const { doing, store, drawn, loading, tool, offer, act, pull, resize, letGo } = board;
  const { unit } = useDocument();
  const holder = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 600 });
  const [look, setLook] = useState<Look | null>(null);
  const press = useRef<{
    x: number;
    y: number;
    look: Look;
    point: string | null;
    rim: Curve | null;
    moved: boolean;
  } | null>(null);

  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const measure = () => setSize({ width: element.clientWidth, height: element.clientHeight });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const known = underlay.ghosts.length + Object.keys(drawn.points).length + (drawn.now?.curves.length ?? 0) > 0;
  // an empty sheet is fitted once more when the outlines of bodies come, a moment later
  const empty = Object.keys(drawn.points).length === 0;
  const fitted = useRef({ fits: -1, waits: false });
  useEffect(() => {
    if (!known || loading || size.width < 50) return;
    const outlined = underlay.round !== "";
    const { fits, waits } = fitted.current;
    const late = waits && empty && outlined;
    // what is drawn is where it was looked at
    fitted.current = { fits: doing.fits, waits: empty && !outlined && (waits || fits !== doing.fits) };
    if (late || fits !== doing.fits) setLook(fit(extentOf(board, underlay), size));
  }, [known, loading, size, board, underlay, doing.fits, empty]);

  const { x, y, scale } = look ?? { x: 0, y: 0, scale: 0.2 };
  const flip = doing.mirrored ? -1 : 1;
  const toSheet = (event: { clientX: number; clientY: number }): XY => {
    const bounds = holder.current?.getBoundingClientRect();
    const [px, py] = [event.clientX - (bounds?.left ?? 0), event.clientY - (bounds?.top ?? 0)];
    return [flip * ((px - size.width / 2) * scale) + x, (size.height / 2 - py) * scale + y];
  };
  const toScreen = (p: XY): XY => [size.width / 2 + (flip * (p[0] - x)) / scale, size.height / 2 - (p[1] - y) / scale];
  const grid = gridStep(scale, unit);
  const spotAt = (event: PointerEvent, without?: ReadonlySet<string>): Spot => {
    const pointer = toSheet(event);
    // while the sheet holds the pointer, every event says that it is on the sheet
    const target = document.elementFromPoint(event.clientX, event.clientY) ?? event.currentTarget;
    const curve = target.closest("[data-curve]")?.getAttribute("data-curve") ?? undefined;
    const found = snap(pointer, drawn, {
      near: NEAR * scale,
      grid: doing.grid && !event.altKey ? grid.fine : 0,
      from: doing.picks.at(-1)?.at,
      ...(without ? { without } : {}),
      under: doing.underlay ? underlay.spots : [],
    });
    if (tool?.id === "trace") {
      const named = target.closest("[data-trace]")?.getAttribute("data-trace") ?? "";
      // names of edges have bars in them too
      const bar = named.indexOf("|");
      const [step, part] = bar < 0 ? [] : [named.slice(0, bar), named.slice(bar + 1)];
      return { at: pointer, way: step ? "edge" : "", ...(step && part ? { trace: { step, part } } : {}) };
    }
    if (tool?.group === "change" && !["fillet", "chamfer"].includes(tool.id)) {
      const on = curve ?? found.on ?? found.middle;
      return { at: pointer, way: on ? "curve" : "", ...(on ? { on } : {}) };
    }
    if (tool && curve && !found.point && !found.middle && !found.on && found.way !== "underlay")
      return { ...found, on: curve, way: "on the curve" };
    return found;
  };

  const down = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button === 2) return;
    const point = (event.target as Element).closest("[data-point]")?.getAttribute("data-point") ?? null;
    const onCurve = (event.target as Element).closest("[data-curve]")?.getAttribute("data-curve");
    event.currentTarget.setPointerCapture(event.pointerId);
    press.current = {
      x: event.clientX,
      y: event.clientY,
      look: { x, y, scale },
      point: tool ? null : point,
      rim: tool || point ? null : (drawn.curves.find((c) => c.id === onCurve && c.type === "circle") ?? null),
      moved: false,
    };
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    const held = press.current;
    if (held && (held.moved || Math.hypot(event.clientX - held.x, event.clientY - held.y) > 3)) {
      held.moved = true;
      if (held.point) {
        const spot = spotAt(event, new Set([held.point]));
        pull(held.point, spot);
        const before = store.getState().pointer;
        // what it would be joined to is said when that changes: the sheet is not drawn anew for every move of the hand
        if (before?.way !== spot.way || before.point !== spot.point) store.setState({ pointer: spot });
      } else if (held.rim) {
        resize(held.rim, spotAt(event).at);
      } else if (!tool || event.buttons === 4) {
        setLook({
          ...held.look,
          x: held.look.x - flip * (event.clientX - held.x) * scale,
          y: held.look.y + (event.clientY - held.y) * scale,
        });
      }
      return;
    }
    store.setState({ pointer: spotAt(event) });
  };
  const up = (event: PointerEvent<SVGSVGElement>) => {
    const held = press.current;
    press.current = null;
    if (!held) return;
    if (held.moved) {
      void letGo(true);
      return;
    }
    if (tool) {
      const spot = spotAt(event);
      const last = doing.picks.at(-1);
      // the second click of two that end a curve is no place of its own
      if (!last || apart(last.at, spot.at) > SAME * scale) void offer([...doing.picks, spot]);
      return;
    }
    const under = document.elementsFromPoint(event.clientX, event.clientY);
    const thing =
      held.point ?? under.map((e) => e.closest("[data-curve]")?.getAttribute("data-curve")).find((id) => id) ?? null;
    const region = under.map((e) => e.getAttribute("data-region")).find((name) => name);
    if (!thing && region && (now?.regions.length ?? 0) > 1) takeRegion(region, event.shiftKey);
    pick(thing, event.shiftKey || event.ctrlKey);
  };
  /** A click into an area makes it the outline; with Shift it joins those that make it, or leaves them. */
  const takeRegion = (name: string, more: boolean) => {
    const used = now?.regions.filter((r) => r.used).map((r) => r.name) ?? [];
    const rest = used.filter((r) => r !== name);
    const wanted = !more ? [name] : used.includes(name) ? rest : [...used, name];
    if (wanted.length && wanted.join() !== used.join()) void act([{ act: "use", regions: wanted }]);
  };
  const pick = (thing: string | null, more: boolean) => {
    const { picked } = store.getState();
    if (thing === null) store.setState({ picked: more ? picked : [] });
    else if (more)
      store.setState({ picked: picked.includes(thing) ? picked.filter((p) => p !== thing) : [...picked, thing] });
    else store.setState({ picked: [thing] });
  };
  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    const zoom = (event: WheelEvent) => {
      event.preventDefault();
      const factor = Math.exp(event.deltaY * 0.0015);
      setLook((old) => {
        const now = old ?? { x: 0, y: 0, scale: 0.2 };
        const bounds = element.getBoundingClientRect();
        const [px, py] = [
          event.clientX - bounds.left - bounds.width / 2,
          bounds.height / 2 - (event.clientY - bounds.top),
        ];
        const next = Math.min(Math.max(now.scale * factor, 1e-4), 50);
        return { x: now.x + flip * px * (now.scale - next), y: now.y + py * (now.scale - next), scale: next };
      });
    };
    element.addEventListener("wheel", zoom, { passive: false });
    return () => element.removeEventListener("wheel", zoom);
  }, [flip]);

  const transform = `translate(${size.width / 2 - (flip * x) / scale} ${size.height / 2 + y / scale}) scale(${flip / scale} ${-1 / scale})`;
  const now = drawn.now;
  const conflicts = new Set(now?.disputes.filter((d) => d.conflict).flatMap((d) => d.holds) ?? []);
  const disputed = new Set(drawn.holds.filter((h) => conflicts.has(h.id)).flatMap((h) => h.of));
  const held = new Set(now?.held ?? []);
  const pointer = doing.pointer;
  const dimensions = useMemo(() => dimensionsOf(drawn, 26 * scale), [drawn, scale]);
  const ghost = tool?.ghost && pointer ? tool.ghost(doing.picks, pointer.at, board.typed) : "";
  const dragged = doing.drag;
  const wrongPlaces = useWrongPlaces(section);
  return (
    <Box
      ref={holder}
      sx={{ position: "absolute", inset: 0, overflow: "hidden", bgcolor: "#FAF7EE", touchAction: "none" }}
    >
      <svg
        data-testid="paper"
        data-look={`${x} ${y} ${scale}`}
        role="application"
        aria-label="Drawing sheet"
        aria-busy={doing.busy > 0 || loading}
        width={size.width}
        height={size.height}
        style={{ display: "block", cursor: tool ? "crosshair" : "default" }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerLeave={() => {
          // while something is being drawn, what it would be stays in sight: its numbers are typed beside the sheet
          if (!doing.picks.length) store.setState({ pointer: null });
        }}
        onDoubleClick={() => tool && void offer(doing.picks, true)}
        onContextMenu={(event) => event.preventDefault()}
      >
        <defs>
          <pattern id="hatch" width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1={0} y1={0} x2={0} y2={6} stroke={colours.brick} strokeWidth={2} />
          </pattern>
        </defs>
        {doing.grid && <Grid look={{ x, y, scale }} size={size} step={grid} toScreen={toScreen} />}
        <g transform={transform} fill="none">
          {doing.underlay && (
            <>
              <PicturesUnder section={section} scale={scale} still={tool !== null} />
              <UnderlayLayer underlay={underlay} scale={scale} tracing={tool?.id === "trace"} />
            </>
          )}
          {now?.regions.map((r) => (
            <path
              key={r.name}
              d={r.path}
              data-region={r.name}
              fill={r.used ? "#E9DFC9" : "#EFEBDF"}
              fillOpacity={r.used ? 0.6 : 0.35}
              fillRule="evenodd"
              stroke="none"
            />
          ))}
          {now?.curves.map((c) => {
            const chosen = doing.picked.includes(c.id) || doing.lit.includes(c.id);
            const wrong = disputed.has(c.id);
            return (
              <g key={c.id} data-curve={c.id} data-held={c.held}>
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
                  stroke={chosen ? colours.buoy : wrong ? colours.brick : c.held ? colours.ink : "#7C8185"}
                  strokeWidth={c.construction ? 1 : chosen ? 2.6 : c.held ? 2.2 : 1.8}
                  strokeDasharray={c.construction ? "12 4 2 4" : c.held || chosen ? undefined : "0.1 3.4"}
                  strokeLinecap="round"
                  vectorEffect="non-scaling-stroke"
                  pointerEvents="none"
                />
              </g>
            );
          })}
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
        {Object.entries(drawn.points).map(([id, at]) => {
          const [px, py] = toScreen(at);
          const chosen = doing.picked.includes(id) || doing.lit.includes(id) || dragged === id;
          return (
            <g key={id} data-point={id} data-held={held.has(id)} style={{ cursor: tool ? "crosshair" : "grab" }}>
              <circle cx={px} cy={py} r={9} fill="transparent" />
              <circle
                cx={px}
                cy={py}
                r={4}
                fill={chosen ? colours.buoy : held.has(id) ? colours.ink : colours.panel}
                stroke={chosen ? colours.buoy : held.has(id) ? colours.ink : "#7C8185"}
                strokeWidth={1.6}
              />
            </g>
          );
        })}
        {wrongPlaces.map((at, i) => (
          <g key={i} data-testid="wrong-place" pointerEvents="none" transform={`translate(${toScreen(at).join(" ")})`}>
            <circle r={11} fill={colours.brick} fillOpacity={0.14} stroke={colours.brick} strokeWidth={1.6} />
          </g>
        ))}
        {pointer && (tool || pointer.point || dragged) && pointer.way && (
          <g pointerEvents="none" transform={`translate(${toScreen(pointer.at).join(" ")})`}>
            <circle r={6} fill="none" stroke={colours.buoy} strokeWidth={1.5} />
            <text
              x={11}
              y={-9}
              fontSize={12}
              fill={colours.buoyText}
              style={{ paintOrder: "stroke" }}
              stroke="#FAF7EE"
              strokeWidth={4}
            >
              {pointer.way}
            </text>
          </g>
        )}
        <g pointerEvents="none" style={numbers}>
          <text x={8} y={size.height - 8} fontSize={11} fill={colours.inkSoft}>
            grid {lengthNumber(grid.coarse, unit)} {unit}
          </text>
        </g>
      </svg>
      {dimensions.map(({ hold, dimension }) => {
        const [px, py] = toScreen(dimension.at);
        return <MeasureLabel key={hold.id} hold={hold} board={board} x={px} y={py} wrong={conflicts.has(hold.id)} />;
      })}
    </Box>
  );
}
