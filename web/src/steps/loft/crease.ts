/** The sign of a crease, about the origin: two flat runs that meet in a ridge. */
export const CREASE = "M-7,4L0,-3.5L7,4";
