/** Sizes of the Run in pixels, shared by the strip and its lanes. */
export const LABEL = 104;
export const MARGIN = 72;
export const TOP = 24;
export const AXIS = 112;
export const STRIP = 156;
export const LANE = 46;
export const TABS = 26;
