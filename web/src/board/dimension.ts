import { AXES, isAxis, placeOf } from "./ground";
import { apart, isMeasure, type Curve, type Drawn, type Hold, type XY } from "./drawing";

/** How a measure is drawn: its number at `at`, a line it measures along, and thin lines that lead to what is measured. mm. */
export interface Dimension {
  at: XY;
  line: readonly [XY, XY] | null;
  leads: readonly (readonly [XY, XY])[];
}

/** A round thing whose radius is no more than so many rows of numbers would be hidden by one that stands in it. */
const HIDDEN = 1.8;

const middle = (a: XY, b: XY): XY => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/** A line from end to end; a foil from its nose to its tail. */
function lineOf(id: string | undefined, drawn: Drawn): readonly [XY, XY] | null {
  const axis = AXES[id ?? ""];
  if (axis) return [[0, 0], axis];
  const curve = drawn.curves.find((c) => c.id === id);
  const [a, b] = [drawn.points[curve?.start ?? ""], drawn.points[curve?.end ?? ""]];
  return (curve?.type === "line" || curve?.type === "foil") && a && b ? [a, b] : null;
}

/** Where the shares of a foil are told: along its chord, beside it. */
const ALONG: Record<string, number> = { thickness: 0.3, camber: 0.52, crest: 0.74 };

/** The box round everything drawn in full. */
function extent(drawn: Drawn): { low: XY; high: XY } {
  const [low, high] = drawn.now?.box ?? [
    [0, 0],
    [0, 0],
  ];
  return { low, high };
}

/** Along a direction, beside the drawing: the two measured places moved out of it, away from its middle. */
function beside(a: XY, b: XY, away: XY, room: number, drawn: Drawn): Dimension {
  const { low, high } = extent(drawn);
  const center = middle(low, high);
  const size = Math.hypot(...away) || 1;
  let n: XY = [away[0] / size, away[1] / size];
  const off = (p: XY) => (p[0] - center[0]) * n[0] + (p[1] - center[1]) * n[1];
  if (off(middle(a, b)) < -1e-9) n = [-n[0], -n[1]];
  const edge = Math.max(
    ...[low, high, [low[0], high[1]] as XY, [high[0], low[1]] as XY].map(
      (p) => (p[0] - center[0]) * n[0] + (p[1] - center[1]) * n[1],
    ),
  );
  const near = off(middle(a, b)) > 0.35 * edge ? Math.max(off(a), off(b)) : edge;
  const shift = (p: XY): XY => [p[0] + (near + room - off(p)) * n[0], p[1] + (near + room - off(p)) * n[1]];
  const [from, to] = [shift(a), shift(b)];
  return {
    at: middle(from, to),
    line: [from, to],
    leads: [
      [a, from],
      [b, to],
    ],
  };
}

/** Where an offset begins, and what it follows: their paths run side by side. */
function startsOf(curve: Curve, drawn: Drawn): [XY, XY] | null {
  const ends = [curve.of, curve.id].map((id) => {
    const path = drawn.now?.curves.find((c) => c.id === id)?.path ?? "";
    const [, x, y] = /^M(-?[\d.e-]+)[ ,](-?[\d.e-]+)/.exec(path) ?? [];
    return x === undefined || y === undefined ? null : ([Number(x), Number(y)] as XY);
  });
  const [from, to] = ends;
  return from && to ? [from, to] : null;
}

/** From the line of one circle to that of another about the same centre. */
function acrossRounds(hold: Hold, drawn: Drawn): [XY, XY] | null {
  const rounds = hold.of.map((id) => drawn.curves.find((c) => c.id === id));
  const center = drawn.points[rounds[0]?.center ?? ""];
  const start = drawn.points[rounds.find((c) => c?.type === "arc")?.start ?? ""];
  if (!center) return null;
  const turn = start ? Math.atan2(start[1] - center[1], start[0] - center[0]) : 0.6;
  const [a, b] = rounds.map((c): XY => {
    const rim = drawn.points[c?.start ?? ""];
    const r = c?.radius ?? (rim ? apart(rim, center) : 0);
    return [center[0] + r * Math.cos(turn), center[1] + r * Math.sin(turn)];
  });
  return a && b ? [a, b] : null;
}

interface Placed {
  hold: Hold;
  dimension: Dimension;
}

/** How many rows of measures there may be on one side. */
const ROWS = 5;

/** Half of what a number takes up across, in rows, by its letters: what is worked out stands behind what it is worked out from. */
const halfOf = ({ value }: Hold): number => (typeof value === "string" ? 1.2 + 0.16 * (value.length + 2) : 1.2);

/** All measures, the short ones nearest to the drawing, each in the first row where its number covers no other. room: mm from row to row. */
export function dimensionsOf(drawn: Drawn, room: number): Placed[] {
  const covers = (a: Placed, b: Placed) =>
    Math.abs(a.dimension.at[0] - b.dimension.at[0]) < (halfOf(a.hold) + halfOf(b.hold)) * room &&
    Math.abs(a.dimension.at[1] - b.dimension.at[1]) < 0.9 * room;
  const long = ({ line }: Dimension) => (line ? apart(...line) : 0);
  const measured = drawn.holds.filter(isMeasure).flatMap((hold) => {
    const dimension = dimensionOf(hold, drawn, room);
    return dimension ? [{ hold, dimension }] : [];
  });
  const placed: Placed[] = [];
  // what was put somewhere by hand stands there, and the others make room
  for (const { hold, dimension } of measured)
    if (hold.aside) placed.push({ hold, dimension: movedBy(dimension, hold.aside) });
  for (const { hold, dimension } of measured.toSorted((a, b) => long(a.dimension) - long(b.dimension))) {
    if (hold.aside) continue;
    let found: Placed = { hold, dimension };
    for (let row = 2; row <= ROWS && placed.some((other) => covers(found, other)); row++)
      found = { hold, dimension: dimensionOf(hold, drawn, room * row) ?? dimension };
    placed.push(found);
  }
  return placed;
}

/** The radius of an arc, in which direction from its centre it begins, and how far round it goes, radians. */
function arcOf(curve: Curve, drawn: Drawn): { r: number; begin: number; sweep: number } | null {
  const [c, a, b] = [curve.center, curve.start, curve.end].map((id) => drawn.points[id ?? ""]);
  if (!c || !a || !b) return null;
  const begin = Math.atan2(a[1] - c[1], a[0] - c[0]);
  return { r: apart(a, c), begin, sweep: past(begin, Math.atan2(b[1] - c[1], b[0] - c[0])) };
}

/** How far round one direction is past another, radians. */
const past = (begin: number, turn: number): number => (turn - begin + 4 * Math.PI) % (2 * Math.PI);

/** Whether an arc runs through a direction from its centre, radians. */
function sweeps(curve: Curve, drawn: Drawn, turn: number): boolean {
  const arc = arcOf(curve, drawn);
  return arc !== null && past(arc.begin, turn) <= arc.sweep;
}

/** From the outermost place on one side to that on the other, where something round is measured over all. */
function overAll(hold: Hold, drawn: Drawn): [XY, XY] | null {
  const curves = hold.of.flatMap((id) => drawn.curves.filter((c) => c.id === id));
  if (!curves.some(({ type }) => type === "arc" || type === "circle")) return null;
  const axis = hold.type === "across" ? 0 : 1;
  const places = hold.of.flatMap((id): XY[] => {
    const curve = curves.find((c) => c.id === id);
    const ends = (curve ? [curve.start, curve.end] : [id]).flatMap((p) =>
      p && drawn.points[p] ? [drawn.points[p]] : [],
    );
    const center = drawn.points[curve?.center ?? ""];
    if (!curve || !center) return ends;
    const r = curve.radius ?? (ends[0] ? apart(ends[0], center) : 0);
    const outermost = [0, Math.PI].flatMap((half): XY[] => {
      const turn = half + (axis * Math.PI) / 2;
      const there = curve.type === "circle" || sweeps(curve, drawn, turn);
      return there ? [[center[0] + r * Math.cos(turn), center[1] + r * Math.sin(turn)]] : [];
    });
    return [...ends, ...outermost];
  });
  const inOrder = places.toSorted((a, b) => a[axis] - b[axis]);
  const [low, high] = [inOrder[0], inOrder.at(-1)];
  return low && high ? [low, high] : null;
}

/** From the rim of a circle or an arc to the line or the point that it is clear of. */
function clearOf(hold: Hold, drawn: Drawn): [XY, XY] | null {
  const round = drawn.curves.find((c) => hold.of.includes(c.id) && c.center !== undefined && c.type !== "ellipse");
  const other = hold.of.find((id) => id !== round?.id) ?? "";
  const center = drawn.points[round?.center ?? ""];
  const line = lineOf(other, drawn);
  const point = placeOf(drawn, other);
  if (!round || !center || !(line || point)) return null;
  const start = drawn.points[round.start ?? ""];
  const r = round.radius ?? (start ? apart(start, center) : 0);
  const to = point ?? footOn(center, line as readonly [XY, XY]);
  const off = apart(to, center) || 1;
  return [[center[0] + ((to[0] - center[0]) * r) / off, center[1] + ((to[1] - center[1]) * r) / off], to];
}

function footOn(p: XY, [a, b]: readonly [XY, XY]): XY {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const t = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy || 1);
  return [a[0] + t * dx, a[1] + t * dy];
}

/** A measure whose number was moved: its line comes along as far as that is away from what it measures. */
export function movedBy({ at, line, leads }: Dimension, [dx, dy]: XY): Dimension {
  const moved: XY = [at[0] + dx, at[1] + dy];
  if (!line || !leads.length) return { at: moved, line, leads };
  const [a, b] = line;
  const size = apart(a, b) || 1;
  const n: XY = [-(b[1] - a[1]) / size, (b[0] - a[0]) / size];
  const by = dx * n[0] + dy * n[1];
  const off = (p: XY): XY => [p[0] + by * n[0], p[1] + by * n[1]];
  return {
    at: moved,
    line: [off(a), off(b)],
    leads: leads.map(([from, to]): readonly [XY, XY] => [from, off(to)]),
  };
}

/** The direction that a single line is turned from: along x, from where it begins. */
const level = ([from, to]: readonly [XY, XY]): readonly [XY, XY] => [from, [from[0] + apart(from, to), from[1]]];

/** The number of what is round on its radius or diameter; where it would hide what it measures, or another number, out beyond it. */
function onRadius(center: XY, r: number, turn: number, across: boolean, room: number): Dimension {
  const on = (reach: number): XY => [center[0] + reach * Math.cos(turn), center[1] + reach * Math.sin(turn)];
  const inside = r > HIDDEN * room;
  return {
    at: on(inside ? r / 2 : r + room),
    line: [on(across ? -r : 0), on(inside ? r : r + room)],
    leads: [],
  };
}

/** room: mm between the drawing and a measure beside it. */
function dimensionOf(hold: Hold, drawn: Drawn, room: number): Dimension | null {
  const [first, second] = hold.of;
  const curve = drawn.curves.find((c) => c.id === first);
  const center = drawn.points[curve?.center ?? ""];
  if ((hold.type === "radius" || hold.type === "diameter") && curve && center) {
    if (curve.type === "circle") {
      const across = hold.type === "diameter";
      return onRadius(center, curve.radius ?? 0, across ? 0.9 : 0.6, across, room);
    }
    const arc = arcOf(curve, drawn);
    return arc && onRadius(center, arc.r, arc.begin + arc.sweep / 2, false, room);
  }
  if (hold.type === "angle" && curve?.type === "arc" && center) {
    const arc = arcOf(curve, drawn);
    if (!arc) return null;
    // outside, where the radius does not stand
    const [reach, turn] = [arc.r + room, arc.begin + arc.sweep / 2];
    return { at: [center[0] + reach * Math.cos(turn), center[1] + reach * Math.sin(turn)], line: null, leads: [] };
  }
  if (curve?.type === "ellipse" && center && (hold.type === "across" || hold.type === "up")) {
    const half = ((hold.type === "across" ? curve.width : curve.depth) ?? 0) / 2;
    const turn = (((curve.turn ?? 0) + (hold.type === "across" ? 0 : 90)) * Math.PI) / 180;
    const out: XY = [center[0] + half * Math.cos(turn), center[1] + half * Math.sin(turn)];
    const back: XY = [2 * center[0] - out[0], 2 * center[1] - out[1]];
    return { at: middle(center, out), line: [back, out], leads: [] };
  }
  if (hold.type === "angle") {
    const u = lineOf(first, drawn);
    const v = second === undefined ? u && level(u) : lineOf(second, drawn);
    if (!u || !v) return null;
    const shared = u.find((p) => v.some((q) => apart(p, q) < 1e-9));
    if (!shared) return { at: middle(middle(...u), middle(...v)), line: null, leads: [] };
    const ways = [u, v].map((l) => {
      const far = l.find((p) => apart(p, shared) > 1e-9) ?? shared;
      const d = apart(far, shared) || 1;
      return [(far[0] - shared[0]) / d, (far[1] - shared[1]) / d] as XY;
    }) as [XY, XY];
    const reach = 1.6 * room;
    const between: XY = [ways[0][0] + ways[1][0], ways[0][1] + ways[1][1]];
    const size = Math.hypot(...between);
    // nothing lies between two that go opposite ways but what is square to both
    const out: XY = size > 1e-6 ? [between[0] / size, between[1] / size] : [-ways[0][1], ways[0][0]];
    // the number stands clear of the corner, beside it or over it
    const clear = Math.min((halfOf(hold) + 0.4) / Math.abs(out[0]), 0.8 / Math.abs(out[1])) * room;
    const off = Math.max(1.2 * reach, clear);
    const ends = ways.map((w): XY => [shared[0] + w[0] * reach, shared[1] + w[1] * reach]) as [XY, XY];
    return {
      at: [shared[0] + out[0] * off, shared[1] + out[1] * off],
      line: ends,
      leads: [],
    };
  }
  const share = ALONG[hold.type];
  if (share !== undefined) {
    const chord = lineOf(first, drawn);
    if (!chord) return null;
    const [[ax, ay], [bx, by]] = chord;
    const size = apart(...chord) || 1;
    const off = ((curve?.thickness ?? 0) / 2) * size + Math.abs(curve?.camber ?? 0) * size + room;
    const at: XY = [
      ax + share * (bx - ax) - ((by - ay) / size) * off,
      ay + share * (by - ay) + ((bx - ax) / size) * off,
    ];
    return { at, line: null, leads: [] };
  }
  const over = hold.type === "across" || hold.type === "up" ? overAll(hold, drawn) : null;
  if (over) return beside(...over, hold.type === "across" ? [0, 1] : [1, 0], room, drawn);
  const clear = hold.type === "distance" ? clearOf(hold, drawn) : null;
  if (clear) return { at: middle(...clear), line: clear, leads: [] };
  if (hold.type === "distance" && curve && curve.type !== "line") {
    const ends = curve.type === "beside" ? startsOf(curve, drawn) : acrossRounds(hold, drawn);
    return ends && { at: middle(...ends), line: ends, leads: [] };
  }
  const line = lineOf(first, drawn);
  const other = lineOf(second, drawn);
  const points = hold.of.flatMap((id) => {
    const at = placeOf(drawn, id);
    return at ? [at] : [];
  });
  if (hold.type === "distance" && (other ?? line) && (points.length === 1 || (line && other))) {
    // from the line that has a middle to the one that it lies beside
    const [near, far] = line && other && isAxis(first ?? "") ? [other, line] : [line, other];
    const base = (near && far ? far : (near ?? far)) as readonly [XY, XY];
    const from = points[0] ?? middle(...(near as readonly [XY, XY]));
    return beside(from, footOn(from, base), [base[1][0] - base[0][0], base[1][1] - base[0][1]], room, drawn);
  }
  const [a, b] = line ?? [points[0], points[1]];
  if (!a || !b) return null;
  if (hold.type === "across") return beside(a, b, [0, 1], room, drawn);
  if (hold.type === "up") return beside(a, b, [1, 0], room, drawn);
  return beside(a, b, [-(b[1] - a[1]), b[0] - a[0]], room, drawn);
}
