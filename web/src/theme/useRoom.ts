import useMediaQuery from "@mui/material/useMediaQuery";

/** On a screen of 900 pixels or less, or one that is low, or at 200 % on a usual one: what is not in use folds away. */
export const SMALL = "@media (max-width: 900px), (max-height: 560px)";
/** On one of 1100 pixels or less columns are narrower. */
export const NARROW = "@media (max-width: 1100px)";

export const isSmall = (): boolean => window.matchMedia(SMALL.replace("@media ", "")).matches;
export const useSmall = (): boolean => useMediaQuery(SMALL);
