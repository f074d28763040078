import type { DesignDocument } from "../api/types";

/** A face or an edge in words: ids of a document are never shown to a person. */
export function partWords(part: string, document: DesignDocument): string {
  const [pair = "", mark] = part.split("#");
  const ends = pair.split("|");
  if (ends.includes("rim"))
    return `the rim of ${faceWords(ends.find((face) => face !== "rim") ?? "", document)}${rimWords(mark, document)}`;
  const words = pair.split("|").map((face) => faceWords(face, document));
  const [first = ""] = words;
  const alike = words.length > 1 && words.every((one) => one === first);
  const between = alike ? first.replace(/^(the|a) side of/, "two sides of") : [...new Set(words)].join(" and ");
  return `${words.length > 1 ? "between " : ""}${between}${edgeWords(mark)}`;
}

/** Which of the edges between the same faces: one of so many, or what a corner that was mirrored left. */
function edgeWords(mark = ""): string {
  if (/^\d+of\d+$/.test(mark)) return ` (${mark.replace("of", " of ")})`;
  return /^\d+\.p\d+m\b/.test(mark) ? ", mirrored" : "";
}

/** Where along the rim of a face: at an end of it, or at the face that lay beyond. */
function rimWords(mark: string | undefined, document: DesignDocument): string {
  const counted = mark && /^(\d+)of(\d+)$/.exec(mark);
  if (counted) return ` (${counted[1]} of ${counted[2]})`;
  if (!mark) return "";
  return mark.includes("/") ? `, at ${faceWords(mark, document)}` : `, ${RIM_SIDES[mark] ?? mark}`;
}

const RIM_SIDES: Record<string, string> = {
  start: "start",
  end: "end",
  first: "one side",
  last: "the other side",
  cut: "where it was trimmed",
};

function faceWords(face: string, { steps }: DesignDocument): string {
  const name = (id: string) => steps.find((step) => step.id === id)?.name;
  const copy = face.includes("@") ? ", a copy" : "";
  const [whole = "", ...parts] = face.replace(/@[^~]*/g, "").split("~");
  const slash = whole.indexOf("/");
  // of several pieces each is called by the rail that it goes along
  const [, rail, made = ""] = /^(?:(rail-\d+)(?:\.[0-9a-f]{8})?\/)?(.*)$/.exec(whole.slice(slash + 1)) ?? [];
  const maker = name(whole.slice(0, slash)) ?? "a body";
  const body = rail ? `${maker} along ${name(rail) ?? "a rail"}` : maker;
  const piece = parts.length ? ", a part" : "";
  const from = name(made.split("^")[1] ?? "");
  const bay = from ? `, from ${from} on` : "";
  const along = /^along\((.*)\)$/.exec(made);
  if (along?.[1])
    return `what ${body} made of the edge ${partWords(along[1].replaceAll("&", "|"), { steps } as DesignDocument)}${piece}${copy}`;
  const beside = /^(inside|outside)\((.*)\)$/.exec(made);
  if (beside?.[2])
    return `the ${beside[1]} of ${partWords(beside[2].replaceAll("&", "|"), { steps } as DesignDocument)}${piece}${copy}`;
  const counted = /^face:(\d+)\.[0-9a-f]{6}$/.exec(made);
  if (counted) return `face ${counted[1]} of ${body}${piece}${copy}`;
  if (made.startsWith("face:")) return `“${made.slice(5)}” of ${body}${piece}${copy}`;
  if (made === "mended") return `a mended face of ${body}${piece}${copy}`;
  if (made === "patch") return `${body}${piece}${copy}`;
  if (made === "cut") return `the cut of ${body}${piece}${copy}`;
  if (made === "rim") return `a rim of ${body}${piece}${copy}`;
  if (made === "corner") return `a corner of ${body}${copy}`;
  if (made === "side" || made.startsWith("side^")) return `the side of ${body}${bay}${piece}${copy}`;
  if (made.startsWith("end:")) return `the end of ${body} at ${name(made.slice(4)) ?? "a section"}${piece}${copy}`;
  if (made.startsWith("near")) return `the near end of ${body}${piece}${copy}`;
  if (made.startsWith("far")) return `the far end of ${body}${piece}${copy}`;
  // `2.right+4.c1`: what sections 2 and 4 were drawn as there; the first of them says it
  const [number = "", curve = ""] = (made.split(/[+/^]/)[0] ?? "").split(".");
  const section = steps.find((step) => step.id.endsWith(`-${number}`))?.name;
  return `the side of ${body}${section ? ` on ${section}` : ""}${curveWords(curve)}${bay}${piece}${copy}`;
}

/** `right`, `upper`: as they are; `2of5`: the second of five; ids of curves stay unsaid. */
function curveWords(curve: string): string {
  const counted = /^(\d+)of(\d+)/.exec(curve);
  if (counted) return `, side ${counted[1]} of ${counted[2]}`;
  return /^[a-z]{3,}/.test(curve) && curve !== "outline" ? `, ${curve.split("^")[0]}` : "";
}
