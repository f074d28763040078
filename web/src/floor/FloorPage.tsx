import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { replaceEqualDeep, useQuery, useQueryClient } from "@tanstack/react-query";
import { createElement, Suspense, useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { useStore } from "zustand";
import { api } from "../api/client";
import { problemOf } from "../api/problems";
import { queries } from "../api/queries";
import type { DesignDocument, Step } from "../api/types";
import { later, usePart } from "../app/later";
import { useProblem } from "../app/useProblem";
import { isDrawnOn, originalOf, outlineOf, type DesignOutline } from "../model/outline";
import { Run } from "../run/Run";
import { SceneView } from "../scene/SceneView";
import type { Viewport } from "../scene/viewport";
import { Sheet } from "../sheet/Sheet";
import { colours } from "../theme/colours";
import { NARROW, SMALL } from "../theme/useRoom";
import { BuildList } from "./BuildList";
import { Floor, Head, Outline, type FloorContext, type HeadContext } from "./context";
import { Reach } from "../reach/Reach";
import { Compared } from "../versions/Compared";
import { Readout } from "./Readout";
import { MapScale } from "./MapScale";
import { fetchSheets } from "../steps/registry";
import { TopLine } from "./TopLine";
import { useDesign } from "./useDesign";
import { useFloorActions } from "./useFloorActions";
import { Verbs } from "./Verbs";
import { ViewControls } from "./ViewControls";

const board = later(async () => (await import("../board/Board")).Board);

/** Where a body is shaped. */
export function FloorPage() {
  const { design = "" } = useParams();
  return <FloorOf key={design} design={design} />;
}

function FloorOf({ design }: { design: string }) {
  const { floor, head, error } = useDesign(design);
  if (error && !head) {
    const { title, detail, code, current } = problemOf(error);
    return (
      <Box
        component="main"
        sx={{ display: "grid", placeContent: "center", height: "100%", gap: 2, textAlign: "center" }}
      >
        <Typography variant="h1">{title}</Typography>
        <Typography color="text.secondary">{detail}</Typography>
        {code === "unreadable-document" && typeof current === "number" && <WayBack design={design} current={current} />}
        <Button component={Link} to="/" variant="contained" sx={{ justifySelf: "center" }}>
          To the rack
        </Button>
      </Box>
    );
  }
  return head && <OpenFloor floor={floor} head={head} />;
}

function OpenFloor({ floor, head }: { floor: FloorContext; head: HeadContext }) {
  const { document: document_ } = head.design;
  const onBoard = useStore(floor.place, (p) => p.board);
  const drawing = drawnOn(document_, onBoard);
  const [viewport, setViewport] = useState<Viewport | null>(null);
  const outline = useSharedOutline(floor, document_);
  useEverythingAhead(floor);

  useEffect(() => {
    document.title = `${document_.name} · Wander`;
  }, [document_.name]);

  return (
    <Floor value={floor}>
      <Head value={head}>
        <Outline value={outline}>
          {drawing ? (
            <Suspense fallback={null}>
              <OnBoard key={drawing.id} section={drawing} />
            </Suspense>
          ) : (
            <FloorReach viewport={viewport}>
              <Box
                sx={{
                  height: "100%",
                  overflow: "hidden",
                  display: "grid",
                  gridTemplateColumns: "262px minmax(0, 1fr) 304px",
                  gridTemplateRows: "auto minmax(0, 1fr) auto",
                  gridTemplateAreas: '"top top top" "build scene sheet" "run run run"',
                  bgcolor: colours.panel,
                  [NARROW]: { gridTemplateColumns: "216px minmax(0, 1fr) 268px" },
                  [SMALL]: {
                    gridTemplateColumns: "minmax(0, 1fr) 252px",
                    gridTemplateRows: "auto minmax(0, 2fr) minmax(0, 3fr) auto",
                    gridTemplateAreas: '"top top" "scene build" "scene sheet" "run run"',
                  },
                }}
              >
                <Box component="header" sx={{ gridArea: "top", borderBottom: line }}>
                  <TopLine />
                </Box>
                <Box
                  component="nav"
                  aria-label="Build"
                  sx={{
                    gridArea: "build",
                    borderRight: line,
                    overflow: "auto",
                    [SMALL]: { borderRight: 0, borderLeft: line },
                  }}
                >
                  <BuildList />
                </Box>
                <Box component="main" aria-label="Scene" sx={{ gridArea: "scene", position: "relative", minWidth: 0 }}>
                  <SceneView onReady={setViewport} />
                  <Readout />
                  <Verbs />
                  <ViewControls viewport={viewport} />
                  <MapScale />
                </Box>
                <Box
                  component="aside"
                  aria-label="Sheet"
                  sx={{ gridArea: "sheet", borderLeft: line, overflow: "auto", [SMALL]: { borderTop: line } }}
                >
                  <Compared />
                  <Sheet />
                </Box>
                <Box component="section" aria-label="Run" sx={{ gridArea: "run", borderTop: line, minWidth: 0 }}>
                  <Run />
                </Box>
              </Box>
            </FloorReach>
          )}
        </Outline>
      </Head>
    </Floor>
  );
}

function OnBoard({ section }: { section: Step }) {
  const shown = usePart(board);
  return shown && createElement(shown, { section });
}

/** What is on the board: of a linked copy it is the original. */
function drawnOn({ steps }: DesignDocument, id: string | null) {
  const step = originalOf(steps, id);
  return step && isDrawnOn(step) ? step : undefined;
}

const line = `1px solid ${colours.hairline}`;

/** The outline, its parts the same objects as before wherever they say the same: what did not change is not drawn again. */
function useSharedOutline({ live }: FloorContext, document: DesignDocument): DesignOutline {
  const steps = useStore(live.built, (built) => built.steps);
  const standing = useStore(live.built, (built) => built.standing);
  const [shared, setShared] = useState(() => outlineOf(document, steps, standing));
  const fresh = useMemo(() => outlineOf(document, steps, standing), [document, steps, standing]);
  const now = replaceEqualDeep(shared, fresh);
  if (now !== shared) setShared(now);
  return now;
}

function FloorReach({ viewport, children }: { viewport: Viewport | null; children: React.ReactNode }) {
  return <Reach actions={useFloorActions(viewport)}>{children}</Reach>;
}

/** Fetches, once the body is there, what the page may need later: it has to go on while the server is away. */
function useEverythingAhead(floor: FloorContext): void {
  const cache = useQueryClient();
  const there = useStore(floor.live.built, (built) => built.shown !== "");
  useEffect(() => {
    if (!there) return;
    const fetched = (): Promise<unknown>[] => [
      fetchSheets(),
      board.fetch(),
      cache.prefetchQuery(queries.kinds()),
      cache.prefetchQuery(queries.holds()),
    ];
    const later = setTimeout(() => void Promise.allSettled(fetched()), 300);
    return () => clearTimeout(later);
  }, [there, cache]);
}

/** From a revision that can't be read: a step back, or to a version with a name. */
function WayBack({ design, current }: { design: string; current: number }) {
  const cache = useQueryClient();
  const problem = useProblem();
  const { data: versions = [] } = useQuery({
    queryKey: ["versions", design, current],
    queryFn: () => api.versions(design),
  });
  const go = (how: () => Promise<unknown>) => () =>
    void how()
      .catch(problem)
      .then(() => cache.resetQueries({ queryKey: queries.head(design).queryKey }));
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, justifyContent: "center" }}>
      <Button variant="outlined" onClick={go(() => api.undo(design, current))}>
        Go back a step
      </Button>
      {versions.map(({ number, revision, name }) => (
        <Button key={number} variant="outlined" onClick={go(() => api.openRevision(design, current, revision))}>
          Open “{name}”
        </Button>
      ))}
    </Box>
  );
}
