import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import type { Step } from "../api/types";
import { useDocument, useFindings, useFloor, useHead, useOutline, useStatus } from "../floor/context";
import { sectionSummary, stationOf } from "../model/outline";
import { area, length, volume } from "../model/units";
import { SceneView } from "../scene/SceneView";
import { FindingCard } from "../sheet/FindingCard";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { Files, OffsetTool, Tools } from "./BoardTools";
import { HeldBy } from "./HeldBy";
import { Hint } from "./Hint";
import { PicturePanel } from "../steps/picture/PicturePanel";
import { Paper } from "./Paper";
import { useBoard, type BoardState } from "./useBoard";
import { useUnderlay } from "./useUnderlay";

const line = `1px solid ${colours.hairline}`;
const nothing = () => undefined;

/** Where a section is drawn: a sheet of paper seen square on, with the body beside it. */
export function Board({ section }: { section: Step }) {
  const { place, undo, redo } = useFloor();
  const { design } = useHead();
  const board = useBoard(section);
  const { doing, store } = board;
  const underlay = useUnderlay(section, doing.drag !== null);
  useKeys(board);
  const back = () => place.setState({ board: null, selected: section.id });
  const freedoms = board.drawn.now?.freedoms;
  return (
    <Box
      sx={{
        height: "100%",
        minWidth: 960,
        display: "grid",
        gridTemplateColumns: "132px minmax(0, 1fr) 304px",
        gridTemplateRows: "46px minmax(0, 1fr) auto",
        gridTemplateAreas: '"top top top" "tools paper side" "tools hint side"',
        bgcolor: colours.panel,
      }}
    >
      <Box
        component="header"
        sx={{ gridArea: "top", borderBottom: line, display: "flex", alignItems: "center", gap: 1, px: 1.5 }}
      >
        <Button variant="outlined" onClick={back}>
          Back to the floor
        </Button>
        <Typography variant="h2" component="h1" sx={{ ml: 1 }}>
          {section.name}
        </Typography>
        <Where section={section} />
        <Typography variant="body2" role="status" data-testid="freedoms" sx={{ mr: "auto", color: colours.inkSoft }}>
          {freedoms === undefined || board.drawn.curves.length === 0
            ? ""
            : freedoms === 0
              ? "Fully held"
              : `${freedoms} ${freedoms === 1 ? "freedom" : "freedoms"} left`}
        </Typography>
        <Toggle
          on={doing.mirrored}
          title="From the other side"
          onClick={() => store.setState({ mirrored: !doing.mirrored })}
        />
        <Toggle on={doing.underlay} title="Underlay" onClick={() => store.setState({ underlay: !doing.underlay })} />
        <Toggle on={doing.grid} title="Grid" onClick={() => store.setState({ grid: !doing.grid })} />
        <Button variant="outlined" onClick={undo} disabled={!design.can_undo}>
          Undo
        </Button>
        <Button variant="outlined" onClick={redo} disabled={!design.can_redo}>
          Redo
        </Button>
      </Box>
      <Box
        component="nav"
        aria-label="Drawing tools"
        sx={{ gridArea: "tools", borderRight: line, overflow: "auto", p: 1 }}
      >
        <Tools chosen={doing.tool} choose={board.choose} />
        <OffsetTool board={board} />
        <Files section={section} />
      </Box>
      <Box component="main" aria-label="Sheet of paper" sx={{ gridArea: "paper", position: "relative", minWidth: 0 }}>
        <Paper section={section} board={board} underlay={underlay} />
      </Box>
      <Hint board={board} />
      <Box
        component="aside"
        aria-label="Drawing"
        sx={{ gridArea: "side", borderLeft: line, overflow: "auto", display: "flex", flexDirection: "column" }}
      >
        <Box sx={{ p: 2, display: "grid", gap: 1.5, alignContent: "start", flex: 1, minHeight: 0, overflow: "auto" }}>
          <Findings section={section} />
          <PicturePanel section={section} board={board} />
          <HeldBy board={board} />
          <Outline section={section} />
        </Box>
        <Box
          sx={{ position: "relative", height: 236, borderTop: line, flex: "none" }}
          aria-label="The body"
          role="group"
        >
          <SceneView onReady={nothing} />
          <Volume section={section} />
        </Box>
      </Box>
    </Box>
  );
}

/** The volume of the body that this section belongs to, as it is now. */
function Volume({ section }: { section: Step }) {
  const { unit } = useDocument();
  const { groups } = useOutline();
  const body = groups.find((group) => group.stands.some((stand) => stand.section === section.id))?.body.id;
  const summary = useStatus(body)?.summary;
  if (summary?.result !== "body") return null;
  const size = volume(summary.volume, unit);
  return (
    <Box data-testid="volume" data-mm3={summary.volume} sx={{ position: "absolute", left: 12, top: 8, fontSize: 13 }}>
      Volume{" "}
      <b style={numbers}>
        {size.value} {size.unit}
      </b>
    </Box>
  );
}

function Where({ section }: { section: Step }) {
  const { unit } = useDocument();
  const summary = useStatus(stationOf(section))?.summary;
  if (summary?.result !== "station") return null;
  return (
    <Typography variant="body2" color="text.secondary" sx={{ whiteSpace: "nowrap" }}>
      station at {length(summary.offset, unit)}
    </Typography>
  );
}

function Toggle({ on, title, onClick }: { on: boolean; title: string; onClick: () => void }) {
  return (
    <Button
      variant="outlined"
      aria-pressed={on}
      onClick={onClick}
      sx={on ? { bgcolor: colours.estuaryWash, borderColor: colours.estuary } : {}}
    >
      {title}
    </Button>
  );
}

function Findings({ section }: { section: Step }) {
  const findings = useFindings(section.id);
  return findings.map((finding) => <FindingCard key={`${finding.code}${finding.title}`} finding={finding} />);
}

function Outline({ section }: { section: Step }) {
  const { unit } = useDocument();
  const summary = sectionSummary(useStatus(section.id));
  if (!summary?.closed) return null;
  const size = area(summary.area, unit);
  const rows: [string, string][] = [
    ["Area", `${size.value} ${size.unit}`],
    ["Girth", length(summary.girth, unit)],
  ];
  return (
    <Box>
      <Typography variant="h3">Outline</Typography>
      <Box component="dl" data-testid="outline" sx={{ m: 0, fontSize: 13 }}>
        {rows.map(([name, value]) => (
          <Box
            key={name}
            sx={{ display: "flex", justifyContent: "space-between", minHeight: 26, alignItems: "center" }}
          >
            <Box component="dt">{name}</Box>
            <Box component="dd" sx={{ m: 0, ...numbers }}>
              {value}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function useKeys({ store, choose, offer, letGo, act, drawn }: BoardState): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement && ["INPUT", "TEXTAREA", "SELECT"].includes(event.target.tagName);
      const { drag, picks, tool, picked } = store.getState();
      if (event.key === "Escape") {
        if (drag) void letGo(false);
        else if (picks.length) store.setState({ picks: [] });
        else if (tool) choose(null);
        else if (picked.length) store.setState({ picked: [] });
        else return;
        event.stopImmediatePropagation();
      } else if (event.key === "Enter" && !typing && tool) {
        event.preventDefault();
        void offer(picks, true);
      } else if ((event.key === "Delete" || event.key === "Backspace") && !typing) {
        const things = picked.filter((id) => drawn.points[id] || drawn.curves.some((c) => c.id === id));
        store.setState({ picked: [] });
        if (things.length) void act([{ act: "drop", things }]);
      }
    };
    window.addEventListener("keydown", press, { capture: true });
    return () => window.removeEventListener("keydown", press, { capture: true });
  }, [store, choose, offer, letGo, act, drawn]);
}
