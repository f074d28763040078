type XY = readonly [number, number];

/** A place of a section that is likely to ride on a path. middle: that of its area, which goes along when it is drawn anew. */
export interface RidingPlace {
  name: string;
  at: XY;
  middle: boolean;
}

/** Radians: an outline that turns by more from one of its points to the next has a corner there. */
const CORNER = 0.35;
/** More corners are no help; any place can be pressed. */
const MOST = 12;

/** The middle of a section, the middles of its edges to all four sides, and its corners, from its outline (closed, mm) and its middle. */
export function placesOn(outline: readonly XY[], middle: XY): RidingPlace[] {
  const round = outline.filter((at, i) => apart(at, outline[(i + 1) % outline.length] ?? at) > 1e-9);
  const corners = round.filter((at, i) => {
    const [before, after] = [round.at(i - 1) ?? at, round[(i + 1) % round.length] ?? at];
    const [u, v] = [away(before, at), away(at, after)];
    return Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])) > CORNER;
  });
  const sides = (["left", "right", "lower", "upper"] as const).map((side) => ({
    name: `Middle of the ${side} edge`,
    at: furthest(round, side === "left" || side === "right" ? 0 : 1, side === "left" || side === "lower" ? -1 : 1),
    middle: false,
  }));
  const found = [
    { name: "Its middle", at: middle, middle: true },
    ...(corners.length <= MOST ? corners : []).map((at, i) => ({ name: `Corner ${i + 1}`, at, middle: false })),
  ];
  for (const side of sides) if (found.every(({ at }) => apart(at, side.at) > 1e-6)) found.push(side);
  return found;
}

const apart = (a: XY, b: XY) => Math.hypot(a[0] - b[0], a[1] - b[1]);
const away = (a: XY, b: XY): XY => [b[0] - a[0], b[1] - a[1]];

/** The middle of what lies furthest to a side. */
function furthest(round: readonly XY[], axis: 0 | 1, sign: 1 | -1): XY {
  const most = Math.max(...round.map((at) => sign * at[axis]));
  const there = round.filter((at) => sign * at[axis] > most - 1e-6);
  const [low, high] = [0, 1].map((i) => [
    Math.min(...there.map((at) => at[i as 0 | 1])),
    Math.max(...there.map((at) => at[i as 0 | 1])),
  ]) as [[number, number], [number, number]];
  return [(low[0] + low[1]) / 2, (high[0] + high[1]) / 2];
}
