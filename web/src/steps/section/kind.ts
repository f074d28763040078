import { sectionSummary, shapeWords, stationOf } from "../../model/outline";
import type { Edit, Step } from "../../api/types";
import type { Choice, Kind, Scope } from "../kind";
import { beyond, offsetOf, planeOf } from "../places";
import { withoutHeldRails } from "../heldToRails";
import { longSplines } from "../splines";
import { gives } from "../registry";
import { drawSection, extent, SHAPES, starter, type ShapeType } from "./starters";

const LETTERS: Partial<Record<ShapeType, string>> = {
  circle: "d c",
  ellipse: "d e",
  rectangle: "d r",
  "rounded-rectangle": "d o",
  slot: "d s",
  polygon: "d p",
  foil: "d f",
  spline: "d l",
  point: "d t",
};

export const kind: Kind = {
  name: "section",
  title: "Section",
  result: "section",
  words: (step, status, _, { unit }) => shapeWords(step, status, unit),
  choices: (scope) => [...SHAPES.map(({ type, title }) => drawn(scope, type, title)), alongBody(scope)],
  // between rails a copy lies as they say
  leave: (step) => (fittedBetween(step) ? ["station", "at", "turn"] : ["station"]),
  fair: (step) => {
    const { type, points } = step.params["shape"] as { type?: string; points?: unknown };
    return (type === "spline" && Array.isArray(points) && points.length > 3) || longSplines(step).length > 0;
  },
  without: (step, gone, now) => {
    const free = withoutHeldRails(step, gone, now);
    if (free) return free;
    const rails = fittedBetween(step);
    const shape = step.params["shape"] as { section?: { step: string } };
    if (!rails?.some((rail) => gone.has(rail.step)) || gone.has(stationOf(step)) || gone.has(shape.section?.step ?? ""))
      return null;
    return [{ do: "set-param", step: step.id, path: ["shape", "rails"], value: [] }];
  },
  // what follows another section, a face or edges is not drawn itself
  drawn: (step) =>
    !["copied", "face", "edges"].includes((step.params["shape"] as { type?: string } | undefined)?.type ?? ""),
};

/** What goes round the face that the selected station touches, or the loop of edges that it lies in. */
function alongBody({ selected, keep, name }: Scope): Choice {
  const place = selected && gives(selected, "station") ? selected.params["place"] : null;
  const { type, face, edge } = (place ?? {}) as { type?: string; face?: unknown; edge?: unknown };
  const picked = (face ?? edge) as { part?: string | null } | undefined;
  const shape = !picked?.part ? null : type === "loop" ? { type: "edges", edge } : { type: "face", face };
  return {
    verb: "Draw",
    title: type === "loop" ? "Along the edges that the station lies in" : "Round the face that the station touches",
    disabled: shape ? undefined : "select a station that touches a face, or lies in a loop of edges",
    alike: "outline edges loop cap convert project",
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "section",
          name: name("Rim"),
          params: { station: { step: selected?.id }, shape },
        },
      ]),
  };
}

/** The rails that a copy lies between. */
function fittedBetween(step: Step): { step: string }[] | null {
  const { type, rails } = step.params["shape"] as { type?: string; rails?: { step: string }[] };
  return type === "copied" && rails?.length ? rails : null;
}

function drawn(scope: Scope, type: ShapeType, title: string): Choice {
  const { selected, stands, group, into, keep, name, document } = scope;
  const last = stands.at(-1);
  const here = scope.outline.groups.flatMap((g) => g.stands).find((stand) => stand.section === selected?.id);
  const size = extent(sectionSummary(scope.statuses[(into === "apart" ? here : last)?.section ?? last?.section ?? ""]));
  const act = () => {
    const called = name(title);
    if (selected && gives(selected, "station")) return keep(onStation(selected.id, called));
    if (into === "apart" && here) {
      // a body of its own begins where the selected section is
      return keep(drawSection(type, planeOf(scope, here), offsetOf(scope, here), called, size, null));
    }
    const row = group ? (document.steps.find((s) => s.id === group.row?.id) ?? null) : null;
    const target = row && group?.row ? { id: row.id, path: group.row.path, count: group.row.items.length } : null;
    return keep(drawSection(type, planeOf(scope, last), beyond(scope), called, size, target));
  };
  const onStation = (station: string, called: string): Edit[] => [
    {
      do: "add-step",
      kind: "section",
      name: called,
      params: { station: { step: station }, shape: starter(type, size.width, size.depth) },
    },
  ];
  const letters = LETTERS[type];
  return { verb: "Draw", title, act, ...(letters ? { keys: letters } : {}) };
}
