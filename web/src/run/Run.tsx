import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { memo, useLayoutEffect, useRef, useState } from "react";
import type { BodySummary, Step } from "../api/types";
import { useDocument, useFloor, useOutline, usePlace, useStatus } from "../floor/context";
import { readAt } from "../model/reading";
import type { LawName } from "../model/laws";
import type { LaneName } from "../model/place";
import { area, length, trimmed } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { SMALL } from "../theme/useRoom";
import { EndChip } from "./EndChip";
import { AXIS, LABEL, MARGIN, STRIP, TABS } from "./frame";
import { LawLane } from "./LawLane";
import { scaleOf, toPixel, type Scale } from "./layout";
import { RailsLane } from "./RailsLane";
import { ReadLane } from "./ReadLane";
import "./run.css";
import { Strip } from "./Strip";
import { kindOf } from "../steps/registry";
import { isRing } from "../steps/loft/sections";
import { useActiveBody, useReadBefore } from "./useActiveBody";
import { useFolded } from "./useFolded";

const LANES: { name: LaneName; title: string }[] = [
  { name: "twist", title: "Twist" },
  { name: "scale", title: "Scale" },
  { name: "area", title: "Area" },
  { name: "curvature", title: "Curvature" },
  { name: "rails", title: "Rails" },
];

const NO_LAWS: readonly LawName[] = [];

/** The length of the active body from end to end: its sections standing on one axis, and below what happens along it. */
export const Run = memo(function Run() {
  const { unit } = useDocument();
  const outline = useOutline();
  const active = useActiveBody();
  const row = active ? (kindOf(active.body).row?.(active.body) ?? null) : null;
  // what is not made of a row of sections is read along its box
  const stands = active ? (row ? active.stands : []) : outline.loose;
  const holder = useRef<HTMLDivElement>(null);
  const [folded, setFolded] = useFolded();
  const width = useWidth(holder, folded);
  const summary = useStatus(active?.body.id)?.summary;
  // a preview of what is not made of sections is not read along its length
  const built = summary?.result === "body" && summary.lanes.at.length ? summary : null;
  const before = useReadBefore(active);
  const read = useLastGood(active?.body.id, built) ?? before;
  const ring = active && row && isRing(active.body) ? (read?.line?.at(-1)?.at ?? null) : null;
  const ends =
    stands.length || !read
      ? [...stands.map((s) => s.at), ...(ring === null ? [] : [ring])]
      : [read.lanes.at[0] ?? 0, read.lanes.at.at(-1) ?? 0];
  const long = ends.length > 1 ? Math.max(...ends) - Math.min(...ends) : 0;
  const fitting = stands.length
    ? scaleOf(stands, ring, LABEL + MARGIN, width - LABEL - 2 * MARGIN)
    : { low: ends[0] ?? 0, high: ends[1] ?? 1, left: LABEL + MARGIN, width: width - LABEL - 2 * MARGIN };
  const [frozen, setFrozen] = useState<Scale | null>(null);
  // while a station is dragged the ruler holds still under it
  const scale = frozen ?? fitting;

  if (folded)
    return (
      <Box ref={holder} sx={{ display: "flex", alignItems: "center", gap: 1.5, px: 2, height: 34 }}>
        <Typography variant="h3">Run</Typography>
        <Typography variant="body2" color="text.secondary" sx={numbers} data-testid="run-length">
          {length(long, unit)}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap sx={{ mr: "auto" }}>
          {active?.body.name}
        </Typography>
        <Button variant="text" aria-expanded={false} onClick={() => setFolded(false)}>
          Unfold
        </Button>
      </Box>
    );
  return (
    <Box
      ref={holder}
      sx={{ position: "relative", userSelect: "none", [SMALL]: { maxHeight: "46vh", overflow: "auto" } }}
    >
      <Box sx={{ position: "absolute", left: 16, top: 14, width: LABEL - 24 }}>
        <Typography variant="h3">Run</Typography>
        <Typography variant="body2" color="text.secondary" sx={numbers} data-testid="run-length">
          {length(long, unit)}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {active?.body.name}
        </Typography>
        <Button
          variant="text"
          aria-expanded
          onClick={() => setFolded(true)}
          sx={{ px: 0, fontSize: 12, fontWeight: 400, color: colours.inkSoft }}
        >
          Fold away
        </Button>
      </Box>
      {stands.length === 0 && !read ? (
        <Typography color="text.secondary" sx={{ height: STRIP, pt: 9, pl: `${LABEL}px`, pr: 3, textAlign: "center" }}>
          Here the body lies from end to end. Draw a section and it stands on this line, to be dragged along it.
        </Typography>
      ) : (
        width > 0 && (
          <Pointing body={read ? (active?.body ?? null) : null} summary={read} scale={scale}>
            <Strip
              stands={stands}
              width={width}
              scale={scale}
              body={built && row ? (active?.body ?? null) : null}
              ring={ring}
              onHold={() => setFrozen(fitting)}
              onRelease={() => setFrozen(null)}
            />
            {active && row && stands.length > 1 && !isRing(active.body) && (
              <>
                <EndChip body={active.body} side="start" point={stands[0]?.outline.length === 1} />
                <EndChip body={active.body} side="end" point={stands.at(-1)?.outline.length === 1} />
              </>
            )}
            {active && read && (
              <Lanes
                body={active.body}
                laws={kindOf(active.body).laws?.(active.body) ?? NO_LAWS}
                summary={read}
                scale={scale}
                width={width}
              />
            )}
          </Pointing>
        )
      )}
    </Box>
  );
});

/** What was last known of a body: its lanes stay in place while it can't be built. */
function useLastGood(body: string | undefined, now: BodySummary | null): BodySummary | null {
  const [last, setLast] = useState<{ body: string | undefined; summary: BodySummary } | null>(null);
  if (now && last?.summary !== now) setLast({ body, summary: now });
  return now ?? (last?.body === body ? (last?.summary ?? null) : null);
}

/** The lanes that are open, and the tabs that open and close them. */
function Lanes(props: { body: Step; laws: readonly LawName[]; summary: BodySummary; scale: Scale; width: number }) {
  const { summary, body, laws } = props;
  const { place } = useFloor();
  const { unit } = useDocument();
  const wanted = usePlace((p) => p.lanes);
  const offs = summary.lanes.rails ?? [];
  const flows = summary.lanes.curvature ?? [];
  // a sheet has no area along it
  const has: Record<LaneName, boolean> = {
    twist: laws.includes("twist"),
    scale: laws.includes("width") || laws.includes("height"),
    area: summary.closed,
    curvature: flows.length > 0,
    rails: offs.length > 0,
  };
  const there = LANES.filter(({ name }) => has[name]);
  const open = wanted.filter((name) => there.some((lane) => lane.name === name));
  const flow = usePlace((p) => p.flow);
  const together = laws.includes("width") && ((body.params["together"] ?? true) as boolean);
  const toggle = (name: LaneName) =>
    place.setState({ lanes: wanted.includes(name) ? wanted.filter((n) => n !== name) : [...wanted, name] });
  return (
    <>
      {open.includes("twist") && <LawLane {...props} name="twist" title="Twist" />}
      {open.includes("scale") && laws.includes("width") && (
        <LawLane {...props} name="width" title={together ? "Scale" : "Width"} />
      )}
      {open.includes("scale") && laws.includes("height") && !together && (
        <LawLane {...props} name="height" title="Height" />
      )}
      {open.includes("area") && (
        <ReadLane
          {...props}
          title="Area"
          values={summary.lanes.area}
          zero={0}
          say={(value) => `${area(value, unit).value} ${area(value, unit).unit}`}
        />
      )}
      {open.includes("curvature") && (
        <ReadLane
          {...props}
          title="Curvature"
          values={flows[flow] ?? []}
          zero={0}
          say={(value) =>
            Math.abs(value) < 1e-5 ? "0" : `${value < 0 ? "−" : ""}1/${trimmed(Math.abs(1 / value), 0)} mm`
          }
        >
          <Box sx={{ display: "block", fontSize: 12, fontWeight: 400 }}>
            flow line{" "}
            <Select
              variant="standard"
              disableUnderline
              value={flow}
              onChange={(event) => place.setState({ flow: event.target.value })}
              inputProps={{ "aria-label": "Flow line" }}
              sx={{ fontSize: 12, "& .MuiSelect-select": { py: 0 } }}
            >
              {flows.map((_, i) => (
                <MenuItem key={i} value={i}>
                  {i + 1}
                </MenuItem>
              ))}
            </Select>
          </Box>
        </ReadLane>
      )}
      {open.includes("rails") && <RailsLane {...props} offs={offs} />}
      <Box
        role="group"
        aria-label="Lanes"
        sx={{ height: TABS, display: "flex", gap: 0.5, pl: `${LABEL}px`, borderTop: `1px solid ${colours.hairline}` }}
      >
        {there.map(({ name, title }) => (
          <Box
            key={name}
            component="button"
            type="button"
            aria-pressed={open.includes(name)}
            onClick={() => toggle(name)}
            sx={{
              border: 0,
              px: 1.25,
              fontSize: 13,
              fontWeight: 400,
              cursor: "pointer",
              color: open.includes(name) ? colours.estuary : colours.inkSoft,
              bgcolor: open.includes(name) ? colours.estuaryWash : "transparent",
            }}
          >
            {title}
          </Box>
        ))}
        {open.includes("scale") && (
          <Box component="label" sx={{ fontSize: 12, alignSelf: "center", display: "flex", gap: 0.5, ml: 1 }}>
            <TogetherBox body={body} together={together} />
            width and height together
          </Box>
        )}
      </Box>
    </>
  );
}

function TogetherBox({ body, together }: { body: Step; together: boolean }) {
  const { change } = useFloor();
  return (
    <Checkbox
      size="small"
      sx={{ p: 0 }}
      checked={together}
      onChange={(event) =>
        void change([
          { do: "set-param", step: body.id, path: ["together"], value: event.target.checked },
          ...(event.target.checked
            ? []
            : [
                {
                  do: "set-param" as const,
                  step: body.id,
                  path: ["height"],
                  value: body.params["height"] ?? body.params["width"] ?? null,
                },
              ]),
        ])
      }
    />
  );
}

/** Wherever the Run is pointed at, a line through all its lanes and the numbers there; the scene draws the ring. */
function Pointing(props: { body: Step | null; summary: BodySummary | null; scale: Scale; children: React.ReactNode }) {
  const { body, summary, scale, children } = props;
  const { place } = useFloor();
  const { unit } = useDocument();
  const pointed = usePlace((p) => (p.pointed && p.pointed.body === body?.id ? p.pointed.at : null));
  const flow = usePlace((p) => p.flow);
  const x = pointed === null ? 0 : toPixel(scale, pointed);
  const there = pointed !== null && summary ? readAt(summary, pointed, flow) : null;
  return (
    <Box
      sx={{ position: "relative" }}
      onPointerMove={(event) => {
        if (!body) return;
        if (event.buttons) {
          if (pointed !== null) place.setState({ pointed: null });
          return;
        }
        const box = event.currentTarget.getBoundingClientRect();
        const share = (event.clientX - box.left - scale.left) / scale.width;
        const at = scale.low + share * (scale.high - scale.low);
        place.setState({ pointed: share >= 0 && share <= 1 ? { body: body.id, at } : null });
      }}
      onPointerLeave={() => place.setState({ pointed: null })}
    >
      {children}
      {there && (
        <>
          <Box
            sx={{
              position: "absolute",
              left: x,
              top: AXIS - 14,
              bottom: TABS,
              width: "1px",
              bgcolor: colours.buoy,
              opacity: 0.55,
              pointerEvents: "none",
            }}
          />
          <Box
            data-testid="reading"
            data-at={there.at}
            data-area={there.area ?? ""}
            sx={{
              ...numbers,
              position: "absolute",
              top: 2,
              left: LABEL,
              right: 8,
              textAlign: "right",
              fontSize: 12,
              color: colours.inkSoft,
              pointerEvents: "none",
            }}
          >
            at {length(there.at, unit)}
            {there.area !== null && ` · ${area(there.area, unit).value} ${area(there.area, unit).unit}`}
            {there.twist !== null && ` · ${trimmed(there.twist, 1)}°`}
            {there.width !== null && ` · × ${trimmed(there.width, 3)}`}
            {there.curvature !== null &&
              Math.abs(there.curvature) > 1e-5 &&
              ` · radius ${trimmed(Math.abs(1 / there.curvature), 0)} mm`}
          </Box>
        </>
      )}
    </Box>
  );
}

function useWidth(holder: React.RefObject<HTMLDivElement | null>, folded: boolean): number {
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = holder.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [holder, folded]);
  return width;
}
