import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { memo, useState } from "react";
import { useDocument } from "../floor/context";
import { Sign } from "../app/Sign";
import { colours } from "../theme/colours";
import { lengthNumber } from "../model/units";
import { numbers } from "../theme/theme";
import { SMALL } from "../theme/useRoom";
import {
  apart,
  holdsFor,
  isMeasure,
  measureText,
  named,
  pointsOf,
  type Act,
  type Drawn,
  type Hold,
  type XY,
} from "./drawing";
import { AsSplineForm, isRound, MoveForm, SplinePointForm } from "./PickedForms";
import { isAxis, isGround, isThere } from "./ground";
import { onRail } from "./snap";
import type { BoardState } from "./useBoard";
import { useTold, type Told } from "./useTold";
import type { Underlay } from "./useUnderlay";

/** Measures of one kind that stand in the list one by one; more are read on the sheet. */
const MANY_MEASURES = 24;
/** Rails that are offered for a point. */
const MOST_RAILS = 4;

/** Whether things follow others: an edge of a body, or whatever a hold ties them to. */
function followsOthers(drawn: Drawn, things: readonly string[]): boolean {
  const curves = drawn.curves.filter((c) => things.includes(c.id));
  const inside = new Set([...things, ...curves.flatMap(pointsOf)]);
  const tied = ({ type, of }: Hold) => {
    const own = of.filter((thing) => inside.has(thing)).length;
    return type !== "coincident" && own > 0 && own < of.length;
  };
  return curves.some((c) => ["trace", "beside"].includes(c.type)) || drawn.holds.some(tied);
}

/** How long what is picked is, and where a point lies: nothing that could be held. */
function Reading({ told, drawn, picked }: { told: Told; drawn: Drawn; picked: readonly string[] }) {
  const { unit } = useDocument();
  const curves = drawn.curves.filter(({ id }) => picked.includes(id)).length;
  const at = picked.length === 1 ? drawn.points[picked[0] ?? ""] : undefined;
  const rows = [
    ...(told.length === undefined ? [] : [[curves > 1 ? "Length in all" : "Length", told.length]]),
    ...(at ? [["At", at.map((value) => lengthNumber(value, unit)).join(", ")]] : []),
  ];
  if (!rows.length) return null;
  return (
    <Box component="dl" sx={{ m: 0, display: "grid", gap: 0.25 }}>
      {rows.map(([name, value]) => (
        <Box key={name} sx={{ display: "flex", justifyContent: "space-between" }}>
          <Typography component="dt" variant="body2">
            {name}
          </Typography>
          <Typography component="dd" variant="body2" sx={{ ...numbers, m: 0 }}>
            {value}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** What can be done with what is picked, and everything that holds the drawing. */
export function HeldBy({ board, underlay }: { board: BoardState; underlay: Underlay }) {
  const { drawn, doing, act, store, rules, holdTitle } = board;
  const picked = doing.picked.filter((id) => isThere(drawn, id));
  const own = picked.filter((id) => !isGround(id));
  const offered = picked.length ? holdsFor(rules, drawn, picked) : [];
  const curves = picked.filter((id) => drawn.curves.some((c) => c.id === id));
  const told = useTold(board, offered, curves);
  const all = drawn.curves.filter((c) => curves.includes(c.id));
  const point = picked.length === 1 && drawn.points[picked[0] ?? ""] ? picked[0] : undefined;
  const spline = drawn.curves.find((c) => c.type === "spline" && c.through?.includes(point ?? ""));
  const rails = point === undefined ? [] : nearestPass(underlay, drawn, point);
  const about = picked.at(-1) ?? "";
  const mirrored = curves.filter((id) => id !== about);
  const mirrors = isAxis(about) || drawn.curves.some((c) => c.id === about && c.type === "line");
  return (
    <>
      {picked.length > 0 && (
        <Box role="group" aria-label="Picked" sx={{ display: "grid", gap: 0.75 }}>
          <Typography variant="h3">Picked: {picked.map((id) => named(drawn, id)).join(", ")}</Typography>
          <Reading told={told} drawn={drawn} picked={picked} />
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 0.75 }}>
            {offered.map(({ type, title, of }) => (
              <Button
                key={type}
                variant="outlined"
                aria-label={title}
                aria-description={told.of(type)}
                onClick={() => void act([{ act: "hold", type, of, value: null }])}
              >
                {title}
                {told.of(type) && (
                  <Box component="span" sx={{ ...numbers, ml: 0.75, color: colours.inkSoft }}>
                    {told.of(type)}
                  </Box>
                )}
              </Button>
            ))}
            {rails.map(({ name, acts }) => (
              <Button key={name} variant="outlined" onClick={() => void act(acts)}>
                Where {name} passes
              </Button>
            ))}
            {curves.length > 0 && (
              <Button
                variant="outlined"
                onClick={() => void act([{ act: "construction", curves, on: !all.every((c) => c.construction) }])}
              >
                {all.every((c) => c.construction) ? "Draw in full" : "Construction"}
              </Button>
            )}
            {curves.length === 2 && (
              <Button variant="outlined" onClick={() => void act([{ act: "join", curves }])}>
                Join
              </Button>
            )}
            {mirrored.length > 0 && mirrors && (
              <Button variant="outlined" onClick={() => void act([{ act: "mirror", curves: mirrored, about }])}>
                Mirror about {isAxis(about) ? "the " : ""}
                {named(drawn, about)}
              </Button>
            )}
            {followsOthers(drawn, picked) && (
              <Button variant="outlined" onClick={() => void board.release(picked)}>
                Release
              </Button>
            )}
            {own.length > 0 && (
              <Button
                variant="outlined"
                color="error"
                onClick={() => {
                  store.setState({ picked: [] });
                  void act([{ act: "drop", things: own }]);
                }}
              >
                Take away
              </Button>
            )}
          </Box>
          {spline && point && <SplinePointForm key={point} board={board} curve={spline} point={point} />}
          {all.length === 1 && all[0] && isRound(all[0]) && <AsSplineForm board={board} curve={all[0]} />}
          {own.length > 0 && <MoveForm board={board} things={own} />}
        </Box>
      )}
      <Holds drawn={drawn} act={act} store={store} holdTitle={holdTitle} />
    </>
  );
}

type Holding = Pick<BoardState, "drawn" | "act" | "store" | "holdTitle">;

/** Everything that holds the drawing. */
const Holds = memo(function Holds(holding: Holding) {
  const { drawn, holdTitle } = holding;
  const measures = drawn.holds.filter((hold) => isMeasure(hold));
  const relations = drawn.holds.filter((hold) => !isMeasure(hold));
  const many = new Set(kindsOf(measures).flatMap(([type, of]) => (of.length > MANY_MEASURES ? [type] : [])));
  const disputed = new Set(drawn.now?.disputes.flatMap((d) => d.holds) ?? []);
  const shown = { ...holding, disputed };
  return (
    <Box>
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        Held by
      </Typography>
      {drawn.holds.length === 0 && (
        <Typography variant="body2" color="text.secondary">
          Nothing yet. Pick one or two things, and what can hold them is offered here.
        </Typography>
      )}
      <Rows holds={measures.filter(({ type }) => !many.has(type))} {...shown} />
      {kindsOf([...measures.filter(({ type }) => many.has(type)), ...relations]).map(([type, holds]) =>
        holds.length < 3 ? (
          <Rows key={type} holds={holds} {...shown} />
        ) : (
          <Alike key={type} title={holdTitle(type)} holds={holds} {...shown} />
        ),
      )}
    </Box>
  );
});

/** The rails that a point can be held to, each where it passes nearest to the point, the nearest first. */
function nearestPass({ marks }: Underlay, drawn: Drawn, point: string): { name: string; acts: Act[] }[] {
  const off = ({ at }: { at: XY }) => apart(drawn.points[point] ?? at, at);
  const near = marks.filter(({ free }) => free).toSorted((a, b) => off(a) - off(b));
  const first = near.filter(({ id }, i) => near.findIndex((mark) => mark.id === id) === i);
  const offered = first.map((mark) => ({ name: mark.name, acts: onRail(drawn, point, mark) }));
  return offered.filter(({ acts }) => acts.length).slice(0, MOST_RAILS);
}

/** By kind, in the order in which the kinds came. */
function kindsOf(holds: readonly Hold[]): [string, Hold[]][] {
  const kinds = new Map<string, Hold[]>();
  for (const hold of holds) {
    const known = kinds.get(hold.type);
    if (known) known.push(hold);
    else kinds.set(hold.type, [hold]);
  }
  return [...kinds];
}

interface Shown extends Holding {
  holds: Hold[];
  disputed: ReadonlySet<string>;
}

/** Many of one kind under one line: opened when one is wanted, or at odds. */
function Alike({ title, ...shown }: Shown & { title: string }) {
  const { holds, disputed } = shown;
  const [opened, setOpened] = useState(false);
  const open = opened || holds.some((h) => disputed.has(h.id));
  return (
    <Box
      component="details"
      open={open}
      onToggle={(event: React.SyntheticEvent<HTMLDetailsElement>) => setOpened(event.currentTarget.open)}
    >
      <Box
        component="summary"
        sx={{
          fontSize: 13,
          minHeight: 30,
          lineHeight: "30px",
          cursor: "pointer",
          borderBottom: `1px solid ${colours.hairline}`,
        }}
      >
        {title} <span style={numbers}>× {holds.length}</span>
      </Box>
      {open && <Rows {...shown} />}
    </Box>
  );
}

function Rows({ holds, act, store, drawn, holdTitle, disputed }: Shown) {
  const { unit, steps } = useDocument();
  const title = ({ type, rail }: Hold) => {
    const name = steps.find(({ id }) => id === rail?.step)?.name;
    return name === undefined ? holdTitle(type) : `Where ${name} passes`;
  };
  return (
    <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
      {holds.map((hold) => {
        const worth = drawn.now?.measures[hold.id];
        return (
          <HoldRow
            key={hold.id}
            hold={hold}
            title={title(hold)}
            of={hold.of.map((id) => named(drawn, id)).join(", ")}
            number={isMeasure(hold) && worth !== undefined ? measureText(hold.type, worth, unit) : ""}
            act={act}
            store={store}
            disputed={disputed.has(hold.id)}
          />
        );
      })}
    </Box>
  );
}

interface Row {
  hold: Hold;
  title: string;
  /** What it is on, in words. */
  of: string;
  /** What a measure comes to. */
  number: string;
  act: BoardState["act"];
  store: BoardState["store"];
  disputed: boolean;
}

const HoldRow = memo(function HoldRow({ hold, title, of, number, act, store, disputed }: Row) {
  const measure = isMeasure(hold);
  return (
    <Box
      component="li"
      data-hold-row={hold.id}
      onPointerEnter={() => store.setState({ lit: hold.of })}
      onPointerLeave={() => store.setState({ lit: [] })}
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 0.75,
        [SMALL]: { flexWrap: "wrap" },
        fontSize: 13,
        minHeight: 30,
        borderBottom: `1px solid ${colours.hairline}`,
        color: disputed ? colours.brick : undefined,
      }}
    >
      <Box component="span" sx={{ flex: 1, minWidth: 0, [SMALL]: { flexBasis: "100%" } }}>
        {disputed && <Sign of="error" label="One too many: " size={11} />}
        {title}{" "}
        <Box component="span" sx={{ color: colours.inkSoft }}>
          {of}
        </Box>
        {typeof hold.value === "string" && (
          <Box component="span" sx={{ ...numbers, display: "block", fontSize: 12, color: colours.inkSoft }}>
            {hold.value}
          </Box>
        )}
      </Box>
      <Box component="span" sx={numbers}>
        {hold.reading ? `(${number})` : number}
      </Box>
      {measure && (
        <Button
          variant="text"
          sx={{ px: 0.5, fontSize: 12 }}
          onClick={() => void act([{ act: "reading", hold: hold.id, on: !hold.reading }])}
        >
          {hold.reading ? "Hold" : "Only read"}
        </Button>
      )}
      <IconButton
        size="small"
        aria-label={`Drop ${title} of ${of.replaceAll(", ", " and ")}`}
        onClick={() => void act([{ act: "drop", things: [hold.id] }])}
      >
        <Sign of="remove" />
      </IconButton>
    </Box>
  );
});
