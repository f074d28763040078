import type { Drawn, XY } from "./drawing";

/** What every sheet has without anybody drawing it: what things are held to. */
export const ORIGIN = "origin";
export const AXES: Readonly<Record<string, XY>> = { "x-axis": [1, 0], "y-axis": [0, 1] };
const TITLES: Readonly<Record<string, string>> = { [ORIGIN]: "origin", "x-axis": "x axis", "y-axis": "y axis" };

export const isAxis = (id: string): boolean => id in AXES;
export const isGround = (id: string): boolean => id in TITLES;
export const groundTitle = (id: string): string | undefined => TITLES[id];

/** Whether there is such a thing on the sheet: drawn, or under all drawings. */
export const isThere = (drawn: Drawn, id: string): boolean =>
  isGround(id) || drawn.points[id] !== undefined || drawn.curves.some((curve) => curve.id === id);

/** Where a point is, the origin too. */
export const placeOf = (drawn: Drawn, id: string): XY | undefined => (id === ORIGIN ? [0, 0] : drawn.points[id]);
