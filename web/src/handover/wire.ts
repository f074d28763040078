/** What an OBJ says: corners (flat, mm), polygons as rows of corner numbers, and its remarks. */
export interface Wire {
  corners: Float64Array;
  polygons: number[][];
  remarks: string[];
}

export function readWire(text: string): Wire {
  const corners: number[] = [];
  const polygons: number[][] = [];
  const remarks: string[] = [];
  for (const line of text.split("\n")) {
    const [word, ...rest] = line.split(" ");
    if (word === "v") corners.push(...rest.map(Number));
    else if (word === "f") polygons.push(rest.map((corner) => Number.parseInt(corner, 10) - 1));
    else if (word === "#") remarks.push(rest.join(" "));
  }
  return { corners: Float64Array.from(corners), polygons, remarks };
}

type Triple = readonly [number, number, number];
/** From the right and a little above. */
const TURN = -0.6;
const TILT = 0.35;
const ACROSS: Triple = [Math.cos(TURN), Math.sin(TURN), 0];
const UP: Triple = [Math.sin(TURN) * Math.sin(TILT), -Math.cos(TURN) * Math.sin(TILT), Math.cos(TILT)];

/** Places (flat pairs) of all corners in a picture so large, with y down. */
export function seen({ corners }: Wire, width: number, height: number, margin: number): Float64Array {
  const flat = new Float64Array((corners.length / 3) * 2);
  const low = [Infinity, Infinity];
  const high = [-Infinity, -Infinity];
  for (let i = 0; i < corners.length / 3; i++) {
    for (const [k, way] of [ACROSS, UP].entries()) {
      const at = way.reduce((sum, part, c) => sum + part * (corners[3 * i + c] ?? 0), 0);
      flat[2 * i + k] = at;
      low[k] = Math.min(low[k] ?? 0, at);
      high[k] = Math.max(high[k] ?? 0, at);
    }
  }
  const [wide = 1, tall = 1] = [0, 1].map((k) => (high[k] ?? 0) - (low[k] ?? 0) || 1);
  const scale = Math.min((width - 2 * margin) / wide, (height - 2 * margin) / tall);
  for (let i = 0; i < flat.length / 2; i++) {
    flat[2 * i] = width / 2 + ((flat[2 * i] ?? 0) - ((low[0] ?? 0) + (high[0] ?? 0)) / 2) * scale;
    flat[2 * i + 1] = height / 2 - ((flat[2 * i + 1] ?? 0) - ((low[1] ?? 0) + (high[1] ?? 0)) / 2) * scale;
  }
  return flat;
}

/** Whether a polygon looks at whoever looks: its corners go round the other way in a picture whose y runs down. */
export function looksHere(polygon: readonly number[], flat: Float64Array): boolean {
  let area = 0;
  polygon.forEach((a, k) => {
    const b = polygon[(k + 1) % polygon.length] ?? a;
    area += (flat[2 * a] ?? 0) * (flat[2 * b + 1] ?? 0) - (flat[2 * b] ?? 0) * (flat[2 * a + 1] ?? 0);
  });
  return area < 0;
}
