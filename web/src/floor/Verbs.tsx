import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { memo, useState } from "react";
import type { Built } from "../api/built";
import type { DesignDocument, Edit } from "../api/types";
import { addPicture } from "../model/addPicture";
import { sectionIds, sectionSummary, type DesignOutline, type Stand } from "../model/outline";
import { drawSection, extent, SHAPES, starter, type ShapeType } from "../model/starters";
import { addRail, railShape, railThrough } from "../model/rails";
import { lengthNumber, millimetres } from "../model/units";
import { colours } from "../theme/colours";
import { useBuilt, useDocument, useFloor, useOutline, type FloorContext } from "./context";

export type Verb = "Place" | "Draw" | "Shape";
const VERBS: Verb[] = ["Place", "Draw", "Shape"];

export interface Choice {
  title: string;
  act: () => Promise<unknown>;
  disabled?: string;
}

/** The row of verbs: each opens what fits the selection. */
export const Verbs = memo(function Verbs() {
  const [open, setOpen] = useState<{ verb: Verb; anchor: HTMLElement } | null>(null);
  const close = () => setOpen(null);
  return (
    <Box
      role="toolbar"
      aria-label="Verbs"
      sx={{
        position: "absolute",
        top: 12,
        left: 14,
        display: "flex",
        p: 0.5,
        gap: 0.5,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
      }}
    >
      {VERBS.map((verb) => (
        <Button
          key={verb}
          color="inherit"
          aria-haspopup="menu"
          aria-expanded={open?.verb === verb}
          onClick={(event) => setOpen({ verb, anchor: event.currentTarget })}
          sx={{ fontSize: 14, bgcolor: open?.verb === verb ? colours.estuaryWash : "transparent" }}
        >
          {verb}
        </Button>
      ))}
      <Menu open={open !== null} anchorEl={open?.anchor ?? null} onClose={close}>
        {open && <Choices verb={open.verb} close={close} />}
      </Menu>
    </Box>
  );
});

function Choices({ verb, close }: { verb: Verb; close: () => void }) {
  const choices = choicesOf(
    useFloor(),
    useDocument(),
    useOutline(),
    useBuilt((built) => built.steps),
  );
  return choices[verb].map((choice, i) =>
    choice === null ? (
      <Divider key={i} />
    ) : (
      <MenuItem
        key={choice.title}
        disabled={choice.disabled !== undefined}
        onClick={() => {
          close();
          void choice.act();
        }}
      >
        {choice.title}
        {choice.disabled && (
          <Box component="span" sx={{ ml: 2, color: colours.inkSoft, fontSize: 13 }}>
            {choice.disabled}
          </Box>
        )}
      </MenuItem>
    ),
  );
}

/** What each verb can do as things stand. */
export function choicesOf(
  { change, cut, place }: FloorContext,
  { steps, unit }: DesignDocument,
  outline: DesignOutline,
  statuses: Built["steps"],
): Record<Verb, (Choice | null)[]> {
  const { selected } = place.getState();
  const group =
    outline.groups.find((g) => g.body.id === selected || g.stands.some((s) => s.section === selected)) ??
    outline.groups.at(-1);
  const stands = group?.stands ?? outline.loose;
  const last = stands.at(-1);
  const standHere = stands.find((stand) => stand.section === selected || stand.station === selected);
  const plane = planeOf(last);
  const spacing = unit === "in" ? millimetres("in") : 30;
  const beyond = last
    ? offsetOf(last) + spacing * (stands.length > 1 && offsetOf(last) < offsetOf(stands[0]) ? -1 : 1)
    : 0;
  const bareStation = steps.find((step) => step.id === selected && step.kind === "station");

  function planeOf(stand: Stand | undefined): string {
    const station = steps.find((step) => step.id === stand?.station);
    return (station?.params["plane"] as string | undefined) ?? "top";
  }
  function offsetOf(stand: Stand | undefined): number {
    const summary = statuses[stand?.station ?? ""]?.summary;
    return summary?.result === "station" ? summary.offset : 0;
  }
  async function keep(edits: Edit[], kind: string): Promise<void> {
    const kept = await change(edits);
    const made = kept?.document.steps
      .filter((step) => step.kind === kind)
      .toSorted((a, b) => serial(a.id) - serial(b.id))
      .at(-1);
    if (made) place.setState({ selected: made.id });
  }
  const draw = (type: ShapeType, title: string) => {
    const size = extent(last ? sectionSummary(statuses[last.section]) : null);
    const name = `${title} ${stands.length + 1}`;
    if (bareStation) {
      const params = { station: { step: bareStation.id }, shape: starter(type, size.width, size.depth) };
      return keep([{ do: "add-step", kind: "section", name, params }], "section");
    }
    const loft = group ? { id: group.body.id, count: sectionIds(group.body).length } : null;
    return keep(drawSection(type, plane, beyond, name, size, loft), "section");
  };
  const station = (where: string, offset: number) =>
    keep([{ do: "add-step", kind: "station", name: "Station", params: { plane: where, offset } }], "station");
  const loft = (between: "smooth" | "straight") => {
    const sections = outline.loose.map((stand) => ({ section: { step: stand.section } }));
    const name = `Body ${outline.groups.length + 1}`;
    return keep([{ do: "add-step", kind: "loft", name, params: { sections, between } }], "loft");
  };
  function rails(): Choice[] {
    const name = `Rail ${outline.rails.length + 1}`;
    const rail = (params: Record<string, unknown>) => keep([addRail(name, params)], "rail");
    const through = railThrough(stands, statuses);
    const station = bareStation?.id ?? last?.station;
    const drawn = outline.rails.filter((step) => railShape(step).type === "drawing").map((step) => step.id);
    const body = group?.body.id;
    const size = extent(last ? sectionSummary(statuses[last.section]) : null);
    const drawnOn = async (where: "front" | "side") => {
      await keep(
        [
          { do: "add-step", kind: "station", name: `${name} station`, params: { plane: where }, alias: "$station" },
          addRail(name, { station: { step: "$station" }, shape: { type: "drawing" } }),
        ],
        "rail",
      );
      place.setState({ board: place.getState().selected });
    };
    const missing = (there: boolean, what: string) => (there ? {} : { disabled: what });
    return [
      {
        title: "Rail through the sections",
        act: () => rail({ shape: { type: "spline", points: through } }),
        ...missing(through.length > 1, "needs two sections"),
      },
      { title: "Rail drawn from the front", act: () => drawnOn("front") },
      { title: "Rail drawn from the side", act: () => drawnOn("side") },
      {
        title: "Rail from two drawn rails",
        act: () =>
          rail({
            shape: { type: "views", first: { step: drawn.at(-2) ?? "" }, second: { step: drawn.at(-1) ?? "" } },
          }),
        ...missing(drawn.length > 1, "needs two drawn rails"),
      },
      {
        title: "Drawn rail laid on the body",
        act: () => rail({ shape: { type: "laid", rail: { step: drawn.at(-1) ?? "" }, body: { step: body ?? "" } } }),
        ...missing(drawn.length > 0 && body !== undefined, "needs a drawn rail and a body"),
      },
      {
        title: "Rail along edges of the body",
        act: () =>
          rail({
            shape: { type: "edges", edge: { step: body ?? "", part: `${body}/side.1|${body}/start` }, loop: true },
          }),
        ...missing(body !== undefined, "needs a body"),
      },
      {
        title: "Helix",
        act: () =>
          rail({
            station: { step: station ?? "" },
            shape: { type: "helix", radius: Math.round(size.width / 2), rise: spacing, turns: 3 },
          }),
        ...missing(station !== undefined, "needs a station"),
      },
    ];
  }
  const enough = outline.loose.length < 2 ? "needs two sections that are free" : undefined;
  const free = enough ? "free sections" : `${outline.loose.length} free sections`;

  return {
    Place: [
      {
        title: last ? `Station ${lengthNumber(beyond, unit)} ${unit} along` : "Station seen from the top",
        act: () => station(plane, beyond),
      },
      null,
      {
        title: "Reference picture on the station",
        act: () => addPicture(cut, steps, bareStation?.id ?? (standHere ?? last)?.station ?? ""),
        ...(bareStation || last ? {} : { disabled: "needs a station" }),
      },
      null,
      { title: "Station on the top plane", act: () => station("top", 0) },
      { title: "Station on the front plane", act: () => station("front", 0) },
      { title: "Station on the side plane", act: () => station("side", 0) },
    ],
    Draw: [...SHAPES.map(({ type, title }) => ({ title, act: () => draw(type, title) })), null, ...rails()],
    Shape: [
      {
        title: `Smooth loft through ${free}`,
        act: () => loft("smooth"),
        disabled: enough,
      },
      {
        title: `Straight loft through ${free}`,
        act: () => loft("straight"),
        disabled: enough,
      },
    ],
  };
}

const serial = (id: string): number => Number(id.slice(id.lastIndexOf("-") + 1));
