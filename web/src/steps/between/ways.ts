import type { WayDrawn } from "../../sheet/wayDrawn";

const RAILS = "M4 6C16 2 30 10 40 4M4 24C18 20 26 30 40 26";

export const PAIRINGS: WayDrawn[] = [
  {
    value: "length",
    word: "Length",
    tells: "The same share of the length of both rails",
    path: RAILS,
    ink: "M4 6V24M16 5V23M28 6V25M40 4V26",
  },
  {
    value: "parameter",
    word: "Points",
    tells: "Point for point, as both were drawn",
    path: RAILS,
    ink: "M4 6V24M14 4.5L20 23M27 6.2L31 26M40 4V26",
  },
  {
    value: "corners",
    word: "Corners",
    tells: "One corner after the other, and between two corners by length",
    path: "M4 6H20V2H40M4 26H30V16H40",
    ink: "M20 6L30 26M20 2L30 16",
  },
  {
    value: "spine",
    word: "Spine",
    tells: "What lies in one plane square to a third line",
    path: "M4 4C16 2 32 4 40 16M4 28C12 27 16 28 20 29",
    ink: "M4 16C14 15 22 18 29 26M12 2V29M27 5L19 29",
  },
];

export const GROWS: WayDrawn[] = [
  {
    value: "both",
    word: "The height",
    tells: "Width and height in proportion",
    path: "M4 26L40 28M22 26L40 28",
    ink: "M6 26V18H14V26ZM24 27V7H40V27Z",
  },
  {
    value: "width",
    word: "Nothing",
    tells: "The height has a curve of its own, on the Run",
    path: "M4 26L40 28M22 26L40 28",
    ink: "M6 26V18H14V26ZM24 27V19H40V27Z",
  },
];
