import { nameOf, RING, type NamedLine } from "./bodyGeometry";

const MEETING = 1e-3;
/** Edges whose directions differ by less make one run, as on the server. */
const RUNS_ON = Math.cos((2 * Math.PI) / 180);

type Spot = [number, number, number];

interface End {
  at: Spot;
  /** Unit direction out of the edge. */
  out: Spot;
}

/** The names of an edge and of all that go on smoothly from it. */
export function smoothRun(lines: readonly NamedLine[], name: string): string[] {
  const edges = lines
    .filter((line) => !line.name.startsWith(RING) && line.segments.length >= 6)
    .map((line) => ({ name: nameOf(line), ends: endsOf(line.segments) }));
  const found = [name];
  for (const current of found) {
    const ends = edges.find((edge) => edge.name === current)?.ends ?? [];
    for (const edge of edges)
      if (!found.includes(edge.name) && edge.ends.some((a) => ends.some((b) => goesOn(a, b)))) found.push(edge.name);
  }
  return found;
}

function endsOf(segments: Float32Array): End[] {
  const at = (i: number): Spot => [segments[3 * i] ?? 0, segments[3 * i + 1] ?? 0, segments[3 * i + 2] ?? 0];
  const last = segments.length / 3 - 1;
  return [
    { at: at(0), out: unit(at(1), at(0)) },
    { at: at(last), out: unit(at(last - 1), at(last)) },
  ];
}

function unit(from: Spot, to: Spot): Spot {
  const way: Spot = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const size = Math.hypot(...way) || 1;
  return [way[0] / size, way[1] / size, way[2] / size];
}

function goesOn(a: End, b: End): boolean {
  const apart = Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1], a.at[2] - b.at[2]);
  const cosine = -(a.out[0] * b.out[0] + a.out[1] * b.out[1] + a.out[2] * b.out[2]);
  // chords turn more than the curves that they stand for
  return apart < MEETING && cosine > Math.min(RUNS_ON, Math.cos((12 * Math.PI) / 180));
}
