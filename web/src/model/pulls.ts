/** Directions in which a part can leave its mould. */
export const PULLS = ["x", "y", "z"] as const;
export type Pull = (typeof PULLS)[number];

export const along = (pull: Pull): readonly [number, number, number] => [
  pull === "x" ? 1 : 0,
  pull === "y" ? 1 : 0,
  pull === "z" ? 1 : 0,
];
