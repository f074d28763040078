import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { memo, useCallback, useDeferredValue, useEffect, useState } from "react";
import type { Step } from "../api/types";
import { useDocument, useFloor, useOutline, usePlace, useSaid, useStatus } from "../floor/context";
import { makerOf, sectionSummary, stationOf } from "../model/outline";
import { amount, area, length } from "../model/units";
import { SceneView } from "../scene/SceneView";
import { HandOver } from "../handover/HandOver";
import { ActionButton } from "../reach/ActionButton";
import { Reach } from "../reach/Reach";
import { SearchField } from "../reach/SearchField";
import { FairCard } from "../sheet/FairCard";
import { FindingCard } from "../sheet/FindingCard";
import { longSplines } from "../steps/splines";
import { colours } from "../theme/colours";
import { NARROW, SMALL } from "../theme/useRoom";
import { numbers } from "../theme/theme";
import { BringIn } from "./BringIn";
import { Files, Tools } from "./BoardTools";
import { HeldBy } from "./HeldBy";
import { PicturePanel } from "../steps/picture/PicturePanel";
import { Paper } from "./Paper";
import { useBoard, type BoardState } from "./useBoard";
import { useBoardActions } from "./useBoardActions";
import { useLanding } from "./useLanding";
import { useUnderlay } from "./useUnderlay";

const line = `1px solid ${colours.hairline}`;
const nothing = () => undefined;

/** Whether the sheet has been seen: what takes a while to begin, like a view into space, waits for that. */
function usePainted(): boolean {
  const [painted, setPainted] = useState(false);
  useEffect(() => {
    let later: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      later = setTimeout(() => setPainted(true));
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(later);
    };
  }, []);
  return painted;
}

/** Where a section is drawn: a sheet of paper seen square on, with the body beside it. */
export function Board({ section }: { section: Step }) {
  const { place } = useFloor();
  const board = useBoard(section);
  const { doing } = board;
  const underlay = useUnderlay(section, doing.drag !== null, doing.tool === "trace");
  const landing = useLanding(section, board);
  const [bringing, setBringing] = useState(false);
  const bringIn = useCallback(() => setBringing(true), []);
  const back = useCallback(() => place.setState({ board: null, selected: section.id }), [place, section.id]);
  const actions = useBoardActions(board, back);
  const painted = usePainted();
  const handing = usePlace((p) => p.open === "hand over");
  const { drawn } = board;
  return (
    <Reach actions={actions}>
      <Box
        sx={{
          height: "100%",
          display: "grid",
          gridTemplateColumns: "156px minmax(0, 1fr) 304px",
          gridTemplateRows: "auto minmax(0, 1fr)",
          gridTemplateAreas: '"top top top" "tools paper side"',
          bgcolor: colours.panel,
          [NARROW]: { gridTemplateColumns: "148px minmax(0, 1fr) 268px" },
          [SMALL]: { gridTemplateColumns: "124px minmax(0, 1fr) 232px" },
        }}
      >
        <TopLine section={section} freedoms={drawn.curves.length ? drawn.now?.freedoms : undefined} />
        <Box
          component="nav"
          aria-label="Drawing tools"
          sx={{ gridArea: "tools", borderRight: line, overflow: "auto", p: 1 }}
        >
          <Tools />
          <Files section={section} onBringIn={bringIn} />
        </Box>
        <Box component="main" aria-label="Sheet of paper" sx={{ gridArea: "paper", position: "relative", minWidth: 0 }}>
          <Paper section={section} board={board} underlay={underlay} landing={landing} onBringIn={bringIn} />
        </Box>
        <Box
          component="aside"
          aria-label="Drawing"
          sx={{ gridArea: "side", borderLeft: line, overflow: "auto", display: "flex", flexDirection: "column" }}
        >
          <Box sx={{ p: 2, display: "grid", gap: 1.5, alignContent: "start", flex: 1, minHeight: 0, overflow: "auto" }}>
            <Findings section={section} empty={drawn.curves.length === 0} />
            <PicturePanel section={section} board={board} />
            <HeldBy board={board} underlay={underlay} />
            <PickedSpline section={section} board={board} />
            <Outline section={section} />
          </Box>
          <Box
            sx={{ position: "relative", height: 236, borderTop: line, flex: "none", [SMALL]: { height: 110 } }}
            aria-label="The body"
            role="group"
          >
            {painted && <SceneView onReady={nothing} />}
            <Volume section={section} />
          </Box>
        </Box>
        {bringing && <BringIn section={section} onFile={landing.begin} onClose={() => setBringing(false)} />}
        {handing && <HandOver onClose={() => place.setState({ open: null })} />}
      </Box>
    </Reach>
  );
}

/** What is drawn on, how much of it can still move, and what concerns the whole sheet. */
const TopLine = memo(function TopLine({ section, freedoms }: { section: Step; freedoms: number | undefined }) {
  return (
    <Box
      component="header"
      sx={{
        gridArea: "top",
        borderBottom: line,
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        gap: 1,
        minHeight: 45,
        px: 1.5,
        py: 0.5,
      }}
    >
      <ActionButton of="Back to the floor" />
      <Typography variant="h2" component="h1" sx={{ ml: 1 }}>
        {section.name}
      </Typography>
      <Where section={section} />
      <Typography variant="body2" role="status" data-testid="freedoms" sx={{ mr: "auto", color: colours.inkSoft }}>
        {freedoms === undefined
          ? ""
          : freedoms === 0
            ? "Fully held"
            : `${freedoms} ${freedoms === 1 ? "freedom" : "freedoms"} left`}
      </Typography>
      <SearchField />
      {["From the other side", "Underlay", "Grid", "Fit the drawing into the sheet", "Undo", "Redo"].map((name) => (
        <ActionButton key={name} of={name} />
      ))}
    </Box>
  );
});

/** The volume of the body that this section belongs to, as it is now. */
const Volume = memo(function Volume({ section }: { section: Step }) {
  const { unit } = useDocument();
  const { groups } = useOutline();
  const body = groups.find((group) => group.stands.some((stand) => stand.section === section.id))?.body.id;
  const summary = useStatus(body)?.summary;
  if (summary?.result !== "body") return null;
  const [word, size] = amount(summary, unit);
  return (
    <Box
      data-testid="volume"
      data-mm3={summary.volume}
      sx={{ position: "absolute", right: 12, bottom: 8, fontSize: 13 }}
    >
      {word} <b style={numbers}>{size}</b>
    </Box>
  );
});

/** A spline that is picked can be made fair. */
function PickedSpline({ section, board }: { section: Step; board: BoardState }) {
  const long = longSplines(section).filter((id) => board.doing.picked.includes(id));
  return long.length === 1 && <FairCard key={long[0]} step={section} things={long} />;
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

/** An empty sheet teaches how to begin: that nothing is drawn on it yet is no fault. */
const Findings = memo(function Findings({ section, empty }: { section: Step; empty: boolean }) {
  // under the hand the sheet goes first, and its words a moment after it
  const all = useDeferredValue(useSaid(section.id));
  const findings = empty ? all.filter(({ code }) => code !== "not-closed") : all;
  const met = new Map<string, number>();
  return findings.map((finding) => {
    // a card stays in its place while its numbers change
    const kind = `${finding.step} ${finding.code}`;
    const number = met.get(kind) ?? 0;
    met.set(kind, number + 1);
    return <FindingCard key={`${kind} ${number}`} finding={finding} />;
  });
});

const Outline = memo(function Outline({ section }: { section: Step }) {
  const { unit } = useDocument();
  const summary = sectionSummary(useStatus(section.id));
  const maker = makerOf(useOutline(), section.id)?.maker.step;
  if (!summary || (!summary.closed && !summary.outline.length)) return null;
  const open = maker?.params["mirrored"] ? "Open: half of a body that is mirrored" : "Open: from one end to another";
  const size = area(summary.area, unit);
  const rows: [string, string][] = summary.closed
    ? [
        ["Area", `${size.value} ${size.unit}`],
        ["Girth", length(summary.girth, unit)],
      ]
    : [["Length from end to end", length(summary.girth, unit)]];
  return (
    <Box>
      <Typography variant="h3">{summary.closed ? "Outline" : open}</Typography>
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
});
