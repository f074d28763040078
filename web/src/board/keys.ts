/** A letter draws; with Shift it changes what is drawn. */
export const KEYS: Record<string, string> = {
  line: "l",
  bend: "k",
  arc: "a",
  arc3: "t",
  circle: "c",
  ellipse: "e",
  rectangle: "r",
  centred: "m",
  rounded: "u",
  polygon: "p",
  slot: "s",
  spline: "b",
  poles: "o",
  point: "i",
  trace: "Shift+i",
  offset: "Shift+o",
  trim: "Shift+t",
  extend: "Shift+e",
  split: "Shift+p",
  divide: "Shift+d",
  fillet: "Shift+f",
  chamfer: "Shift+c",
};

/** Which way the arrow keys point. */
export const AWAY: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowDown: [0, -1],
  ArrowUp: [0, 1],
};

/** To pull and pick. */
export const PULL = "d";
