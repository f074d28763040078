import type { WayDrawn } from "../../sheet/wayDrawn";

export const ENDS: WayDrawn[] = [
  {
    value: "square",
    word: "Square",
    tells: "Both ends are parallel to the drawing",
    path: "M6 25H38",
    ink: "M6 7H38V19H6Z",
  },
  {
    value: "cut",
    word: "Cut at angles",
    tells: "Each end is cut at angles of its own; the length is that at the origin of the drawing",
    path: "M12 25H32",
    ink: "M4 7H40L32 19H12Z",
  },
];
