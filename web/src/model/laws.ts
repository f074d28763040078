/** Laws along a body as the document holds them, and their handles on the Run. */

export type LawName = "twist" | "width" | "height";
type Value = number | string;

export interface LawPoint {
  at: Value;
  value: Value;
  sharp?: boolean;
}

export type Law =
  | { type: "constant"; value: Value }
  | { type: "linear" | "smooth"; start: Value; end: Value }
  | { type: "points"; points: LawPoint[]; swings?: boolean };

export type LawType = Law["type"] | "none" | "swings";

/** What a law is called on its lane. */
export const typeOf = (law: Law | null): LawType =>
  law === null ? "none" : law.type === "points" && law.swings ? "swings" : law.type;

export const LAW_TYPES: { type: LawType; title: string }[] = [
  { type: "none", title: "none" },
  { type: "constant", title: "even" },
  { type: "linear", title: "straight" },
  { type: "smooth", title: "eased" },
  { type: "points", title: "points" },
  { type: "swings", title: "points, swinging" },
];

/** A point of a law that can be taken hold of. path: inside the law, as in the document. at: share of the length. */
export interface Handle {
  path: (string | number)[];
  at: number;
  value: number;
  sharp: boolean;
  movable: boolean;
}

export const idle = (name: LawName): number => (name === "twist" ? 0 : 1);

/** worth: what the expression at a path inside the law comes to. */
export function handlesOf(law: Law | null, worth: (path: string) => number | undefined): Handle[] {
  if (law === null) return [];
  const number = (value: Value, ...path: (string | number)[]) =>
    typeof value === "number" ? value : (worth(path.join(".")) ?? 0);
  const fixed = (path: string, at: number, value: Value): Handle => ({
    path: [path],
    at,
    value: number(value, path),
    sharp: false,
    movable: false,
  });
  switch (law.type) {
    case "constant":
      return [fixed("value", 0.5, law.value)];
    case "linear":
    case "smooth":
      return [fixed("start", 0, law.start), fixed("end", 1, law.end)];
    case "points":
      return law.points.map((point, i) => ({
        path: ["points", i, "value"],
        at: number(point.at, "points", i, "at"),
        value: number(point.value, "points", i, "value"),
        sharp: point.sharp ?? false,
        movable: true,
      }));
  }
}

/** The law with one handle somewhere else; it stays between its neighbours. */
export function withHandle(law: Law, handles: Handle[], index: number, at: number, value: number): Law {
  switch (law.type) {
    case "constant":
      return { ...law, value };
    case "linear":
    case "smooth":
      return index === 0 ? { ...law, start: value } : { ...law, end: value };
    case "points": {
      const low = index ? (handles[index - 1]?.at ?? 0) + 0.005 : 0;
      const high = handles[index + 1] ? (handles[index + 1]?.at ?? 1) - 0.005 : 1;
      const place = round(Math.min(high, Math.max(low, at)));
      return { ...law, points: law.points.map((p, i) => (i === index ? { ...p, at: place, value } : p)) };
    }
  }
}

/** The law with another point, whatever kind it was before. */
export function withPoint(law: Law | null, handles: Handle[], at: number, value: number): Law {
  if (law === null)
    return {
      type: "points",
      points: [
        { at: 0, value },
        { at: round(at), value },
      ],
    };
  const points: LawPoint[] =
    law.type === "points" ? law.points : handles.map((h) => ({ at: h.at, value: round(h.value) }));
  const order = handles.filter((h) => h.at < at).length;
  return {
    ...(law.type === "points" ? law : { type: "points" }),
    points: [...points.slice(0, order), { at: round(at), value }, ...points.slice(order)],
  };
}

/** Another kind of law that starts out as near to the present one as it can. */
export function asType(type: LawType, name: LawName, handles: Handle[]): Law | null {
  const first = round(handles[0]?.value ?? idle(name));
  const last = round(handles.at(-1)?.value ?? idle(name));
  switch (type) {
    case "none":
      return null;
    case "constant":
      return { type, value: last };
    case "linear":
    case "smooth":
      return { type, start: first, end: last };
    case "points":
    case "swings":
      return {
        type: "points",
        ...(type === "swings" ? { swings: true } : {}),
        points:
          handles.length > 1
            ? handles.map((h) => ({ at: h.at, value: round(h.value), ...(h.sharp ? { sharp: true } : {}) }))
            : [
                { at: 0, value: first },
                { at: 1, value: last },
              ],
      };
  }
}

export const round = (value: number): number => Math.round(value * 1e6) / 1e6;
