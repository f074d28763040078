import type { Step } from "../../api/types";
import { measureInWords, measureOf } from "../../model/measures";
import type { Picking } from "../../model/place";
import type { Choice, Kind, Scope } from "../kind";
import { pickFor } from "../bodies";
import { gives } from "../registry";

interface Offer {
  type: string;
  title: string;
  name: string;
  keys: string;
  alike: string;
  picks?: { path: string } & Pick<Picking, "what" | "whole" | "most">;
}

const OFFERS: Offer[] = [
  {
    type: "distance",
    title: "Measure a distance",
    name: "Distance",
    keys: "m d",
    alike: "gap clearance thickness between how far",
    picks: { path: "parts", what: "part", whole: true, most: 2 },
  },
  {
    type: "angle",
    title: "Measure an angle",
    name: "Angle",
    keys: "m a",
    alike: "lean slope between degrees",
    picks: { path: "parts", what: "part", most: 2 },
  },
  {
    type: "length",
    title: "Measure the length of edges",
    name: "Length",
    keys: "m l",
    alike: "perimeter girth how long",
    picks: { path: "edges", what: "edge" },
  },
  {
    type: "radius",
    title: "Measure a radius",
    name: "Radius",
    keys: "m r",
    alike: "curvature bend round diameter",
    picks: { path: "parts", what: "part", most: 1 },
  },
  {
    type: "area",
    title: "Measure the area of faces",
    name: "Area",
    keys: "m s",
    alike: "surface how large",
    picks: { path: "faces", what: "face" },
  },
  { type: "volume", title: "Hold a volume in sight", name: "Volume", keys: "m v", alike: "target capacity content" },
  { type: "mass", title: "Hold a mass in sight", name: "Mass", keys: "m m", alike: "weight grams heavy target" },
  {
    type: "fill",
    title: "Fill a vessel to a level",
    name: "Filling",
    keys: "m f",
    alike: "liquid content capacity ml litre level holds",
  },
];

export const kind: Kind = {
  name: "measure",
  title: "Measure",
  result: "measure",
  words: (_, status, __, { unit }) => {
    const told = measureOf(status);
    return told ? measureInWords(told, unit) : "";
  },
  leave: () => ["of"],
  choices: (scope) => OFFERS.map((offer, i) => measured(scope, offer, i === 0)),
  // what it measures may go: it waits for something else
  without: (step, gone) => {
    const of = step.params["of"] as Record<string, unknown> & { body?: { step: string } };
    if (of.body) return null;
    const list = ["parts", "edges", "faces"].find((name) => Array.isArray(of[name]));
    if (!list) return null;
    const left = (of[list] as { step: string }[]).filter((ref) => !gone.has(ref.step));
    return [{ do: "set-param", step: step.id, path: ["of", list], value: left }];
  },
};

function measured({ document, body, keep, name, floor }: Scope, offer: Offer, apart: boolean): Choice {
  const known = document.steps.some(
    (step: Step) => gives(step, "body") || (offer.picks?.whole && gives(step, "reference")),
  );
  const { picks } = offer;
  return {
    verb: "Check",
    title: offer.title,
    disabled: known ? undefined : "needs a body",
    keys: offer.keys,
    alike: `measure ${offer.alike}`,
    apart,
    act: async () => {
      const of = picks ? { type: offer.type, [picks.path]: [] } : { type: offer.type, body: { step: body?.id ?? "" } };
      await keep([{ do: "add-step", kind: "measure", name: name(offer.name), params: { of } }]);
      if (picks) pickFor(floor, "measure", { ...picks, path: ["of", picks.path] });
    },
  };
}
