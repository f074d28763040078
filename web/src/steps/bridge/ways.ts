import type { WayDrawn } from "../../sheet/wayDrawn";

export const LEAVES: WayDrawn[] = [
  {
    value: "tangent",
    word: "Tangent",
    tells: "In the tangent planes of what lies behind the edges",
    path: "M3 6L17 10",
    ink: "M17 10C30 14 34 20 36 28",
  },
  {
    value: "position",
    word: "Straight",
    tells: "From the edges, with a bend where that is shortest",
    path: "M3 6L17 10",
    ink: "M17 10L36 28",
  },
  {
    value: "curvature",
    word: "Curved",
    tells: "With the curvature of what lies behind the edges",
    path: "M3 5C8 5 13 7 17 10",
    ink: "M17 10C24 15 32 20 36 28",
  },
];

export const ENDS: WayDrawn[] = [
  {
    value: "open",
    word: "Open",
    tells: "A sheet from edges to edges",
    path: "M8 8A14 4 0 0 1 36 8A14 4 0 0 1 8 8M12 25A10 3 0 0 0 32 25",
    ink: "M8 8C8 16 12 16 12 25M36 8C36 16 32 16 32 25",
  },
  {
    value: "closed",
    word: "Closed",
    tells: "A body: flat faces close it at both runs, which have to be flat loops",
    path: "M10 8H34M14 25H30M14 11H30M17 22H27",
    ink: "M8 8A14 4 0 0 1 36 8A14 4 0 0 1 8 8M8 8C8 16 12 16 12 25A10 3 0 0 0 32 25C32 16 36 16 36 8",
  },
];
