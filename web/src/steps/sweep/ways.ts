import type { WayDrawn } from "../../sheet/wayDrawn";

const CLIMBS = "M4 22C14 22 14 8 24 8S36 14 40 6";

export const PLACES: WayDrawn[] = [
  {
    value: "squared",
    word: "Squared",
    tells: "Moved to the start of the path and turned square to it",
    path: "M10 22C18 10 28 10 40 8",
    ink: "M5 16L15 27",
  },
  {
    value: "moved",
    word: "Moved",
    tells: "Moved to the start of the path, and not turned",
    path: "M10 22C18 10 28 10 40 8",
    ink: "M10 14V28",
  },
  {
    value: "drawn",
    word: "As drawn",
    tells: "Left where it was drawn",
    path: "M6 20C16 10 28 10 40 8",
    ink: "M25 2V17",
  },
];

export const ATTITUDES: WayDrawn[] = [
  {
    value: "least",
    word: "Square",
    tells: "Stays square to the path and turns about it as little as can be",
    path: CLIMBS,
    ink: "M5 16V28M12 11L20 17M24 2V14M33 6L37 16",
  },
  {
    value: "upright",
    word: "Upright",
    tells: "Keeps its upright, whether the path climbs or turns",
    path: CLIMBS,
    ink: "M5 16V28M15 9V20M24 2V14M36 5V17",
  },
  {
    value: "parallel",
    word: "Parallel",
    tells: "Is carried along and never turned",
    path: CLIMBS,
    ink: "M3 17L9 27M12 10L18 20M21 3L27 13M32 6L38 16",
  },
  {
    value: "surface",
    word: "Face",
    tells: "Stands up from a face that the path lies on",
    path: "M3 26C12 10 32 10 41 26",
    ink: "M6 22L1 17M14 15.5L11 9M22 14V7M30 15.5L33 9M38 22L43 17",
  },
];

export const CORNERS: WayDrawn[] = [
  {
    value: "mitred",
    word: "Mitred",
    tells: "Both sides run on to the plane that halves the corner",
    path: "M8 26V9H42",
    ink: "M2 26V3H42M14 26V15H42M2 3L14 15",
  },
  {
    value: "rounded",
    word: "Rounded",
    tells: "The path goes round its corners in an arc",
    path: "M8 26V20Q8 9 19 9H42",
    ink: "M2 26V18Q2 3 17 3H42M14 26V20Q14 15 19 15H42",
  },
  {
    value: "stepped",
    word: "Stepped",
    tells: "The path goes round its corners in short straights, mitred",
    path: "M8 26V20L11 12L19 9H42",
    ink: "M2 26V18L7 7L17 3H42M14 26V21L16 17L21 15H42M2 18L14 21M7 7L16 17M17 3L21 15",
  },
];
