import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useCallback, useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { problemOf } from "../api/problems";
import type { Built } from "../api/queries";
import type { DesignDocument } from "../api/types";
import { outlineOf, sectionSummary, type Stand } from "../model/outline";
import { Run } from "../run/Run";
import { VIEWS, type ViewKey } from "../scene/framing";
import { SceneView, type SceneBody } from "../scene/SceneView";
import type { StagedSection, Viewport } from "../scene/viewport";
import { Sheet } from "../sheet/Sheet";
import { colours } from "../theme/colours";
import { BuildList } from "./BuildList";
import { Floor, type FloorContext } from "./context";
import { Readout } from "./Readout";
import { TopLine } from "./TopLine";
import { useDesign } from "./useDesign";
import { Verbs } from "./Verbs";
import { ViewControls } from "./ViewControls";

/** Where a body is shaped. */
export function FloorPage() {
  const { design = "" } = useParams();
  return <FloorOf key={design} design={design} />;
}

function FloorOf({ design }: { design: string }) {
  const { floor, error } = useDesign(design);
  if (error) {
    const { title, detail } = problemOf(error);
    return (
      <Box
        component="main"
        sx={{ display: "grid", placeContent: "center", height: "100%", gap: 2, textAlign: "center" }}
      >
        <Typography variant="h1">{title}</Typography>
        <Typography color="text.secondary">{detail}</Typography>
        <Button component={Link} to="/" variant="contained" sx={{ justifySelf: "center" }}>
          To the rack
        </Button>
      </Box>
    );
  }
  return floor && <OpenFloor floor={floor} />;
}

function OpenFloor({ floor }: { floor: FloorContext }) {
  const { design, built, place } = floor;
  const [viewport, setViewport] = useState<Viewport | null>(null);
  const outline = useMemo(() => outlineOf(design.document, built.steps), [design.document, built.steps]);
  const bodies = useStable(useMemo(() => bodiesOf(design.document, built), [design.document, built]));
  const sections = useMemo(() => {
    const inBodies = outline.groups.flatMap((group) => group.stands);
    return [
      ...inBodies.map((stand) => staged(stand, built, false)),
      ...outline.loose.map((stand) => staged(stand, built, true)),
    ];
  }, [outline, built]);
  useKeys(floor, viewport);
  const ready = useCallback((made: Viewport | null) => setViewport(made), []);

  useEffect(() => {
    document.title = `${design.document.name} · Wander`;
  }, [design.document.name]);

  return (
    <Floor value={floor}>
      <Box
        sx={{
          height: "100%",
          minWidth: 960,
          display: "grid",
          gridTemplateColumns: "262px minmax(0, 1fr) 304px",
          gridTemplateRows: "46px minmax(0, 1fr) 158px",
          gridTemplateAreas: '"top top top" "build scene sheet" "run run run"',
          bgcolor: colours.panel,
        }}
      >
        <Box component="header" sx={{ gridArea: "top", borderBottom: line }}>
          <TopLine />
        </Box>
        <Box component="nav" aria-label="Build" sx={{ gridArea: "build", borderRight: line, overflow: "auto" }}>
          <BuildList outline={outline} />
        </Box>
        <Box component="main" aria-label="Scene" sx={{ gridArea: "scene", position: "relative", minWidth: 0 }}>
          <SceneView bodies={bodies} sections={sections} place={place} onReady={ready} />
          <Verbs outline={outline} />
          <ViewControls viewport={viewport} />
          <Readout />
        </Box>
        <Box component="aside" aria-label="Sheet" sx={{ gridArea: "sheet", borderLeft: line, overflow: "auto" }}>
          <Sheet outline={outline} />
        </Box>
        <Box component="section" aria-label="Run" sx={{ gridArea: "run", borderTop: line, minWidth: 0 }}>
          <Run outline={outline} />
        </Box>
      </Box>
    </Floor>
  );
}

const line = `1px solid ${colours.hairline}`;

function bodiesOf(document: DesignDocument, built: Built): SceneBody[] {
  return document.steps.flatMap((step) => {
    const status = built.steps[step.id];
    const mesh = status?.mesh ?? (status?.state === "skipped" ? null : status?.last_good);
    return mesh ? [{ id: step.id, mesh, stale: status?.mesh === null }] : [];
  });
}

/** The same array as long as its contents are: the scene is only told of changes. */
function useStable(bodies: SceneBody[]): SceneBody[] {
  const key = JSON.stringify(bodies);
  return useMemo(() => JSON.parse(key) as SceneBody[], [key]);
}

function staged(stand: Stand, built: Built, loose: boolean): StagedSection {
  const summary = sectionSummary(built.steps[stand.section]);
  const points: number[] = [];
  if (summary) {
    const { origin, x, y, outline, closed } = summary;
    const ring = closed && outline[0] ? [...outline, outline[0]] : outline;
    for (const [a, b] of ring)
      for (let i = 0; i < 3; i++) points.push((origin[i] ?? 0) + a * (x[i] ?? 0) + b * (y[i] ?? 0));
  }
  return { id: stand.section, number: stand.number, name: stand.name, loose, outline: new Float32Array(points) };
}

function useKeys({ undo, redo, place }: FloorContext, viewport: Viewport | null): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        (event.target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(event.target.tagName));
      if (typing) return;
      const held = event.ctrlKey || event.metaKey;
      if (held && event.key.toLowerCase() === "z") {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
      } else if (held && event.key.toLowerCase() === "y") {
        event.preventDefault();
        redo();
      } else if (held || event.altKey) return;
      else if (event.key in VIEWS) viewport?.look(event.key as ViewKey);
      else if (event.key === "0") viewport?.fit();
      else if (event.key === "Escape") place.setState({ selected: null });
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [undo, redo, place, viewport]);
}
