import type { Edit, SectionSummary } from "../../api/types";

export const SHAPES = [
  { type: "circle", title: "Circle" },
  { type: "ellipse", title: "Ellipse" },
  { type: "rectangle", title: "Rectangle" },
  { type: "rounded-rectangle", title: "Rounded rectangle" },
  { type: "slot", title: "Slot" },
  { type: "polygon", title: "Regular polygon" },
  { type: "foil", title: "Foil" },
  { type: "spline", title: "Spline through points" },
  { type: "point", title: "Point" },
] as const;

export type ShapeType = (typeof SHAPES)[number]["type"];

const round = (value: number) => Math.round(value * 100) / 100;

/** Width and depth of an outline in mm; a fair size where there is none. */
export function extent(summary: SectionSummary | null): { width: number; depth: number } {
  const outline = summary?.outline ?? [];
  if (outline.length < 3) return { width: 40, depth: 40 };
  const xs = outline.map((p) => p[0]);
  const ys = outline.map((p) => p[1]);
  return { width: round(Math.max(...xs) - Math.min(...xs)), depth: round(Math.max(...ys) - Math.min(...ys)) };
}

/** Parameters of a shape of about this size: changing the kind of a section keeps how big it is. */
export function starter(
  type: ShapeType,
  width: number,
  depth: number,
  outline?: readonly (readonly [number, number])[],
): Record<string, unknown> {
  switch (type) {
    case "circle":
      return { type, diameter: round((width + depth) / 2) };
    case "ellipse":
    case "rectangle":
      return { type, width, depth };
    case "rounded-rectangle":
      return { type, width, depth, radius: round(Math.min(width, depth) / 4) };
    case "slot":
      return width > depth ? { type, length: width, width: depth } : { type, length: round(width * 1.5), width: depth };
    case "polygon":
      return { type, sides: 6, across: round(Math.max(width, depth)) };
    case "foil":
      return { type, chord: round(Math.max(width, depth)), thickness: 0.12, camber: 0, crest: 0.4 };
    case "spline":
      return { type, points: onOutline(outline) ?? ringOfPoints(width, depth), closed: true };
    case "point":
      return { type };
  }
}

/** Sixteen points along an outline that is there already: it keeps its shape as it becomes a spline. */
function onOutline(outline?: readonly (readonly [number, number])[]): [number, number][] | null {
  if (!outline || outline.length < 32) return null;
  return Array.from({ length: 16 }, (_, i) => {
    const [x, y] = outline[Math.round((i * outline.length) / 16)] ?? [0, 0];
    return [round(x), round(y)];
  });
}

function ringOfPoints(width: number, depth: number): [number, number][] {
  return Array.from({ length: 8 }, (_, i) => {
    const turn = (i * Math.PI) / 4;
    return [round((width / 2) * Math.cos(turn)), round((depth / 2) * Math.sin(turn))];
  });
}

/** A new section on a station of its own, and into the body that is being worked on, as one change. */
export function drawSection(
  type: ShapeType,
  plane: string,
  offset: number,
  name: string,
  size: { width: number; depth: number },
  loft: { id: string; count: number } | null,
): Edit[] {
  const edits: Edit[] = [
    {
      do: "add-step",
      kind: "station",
      name: `${name} station`,
      params: { plane, offset },
      alias: "$station",
      before: loft?.id ?? null,
    },
    {
      do: "add-step",
      kind: "section",
      name,
      params: { station: { step: "$station" }, shape: starter(type, size.width, size.depth) },
      alias: "$section",
      before: loft?.id ?? null,
    },
  ];
  if (loft)
    edits.push({
      do: "set-param",
      step: loft.id,
      path: ["sections", loft.count],
      value: { section: { step: "$section" } },
    });
  return edits;
}
