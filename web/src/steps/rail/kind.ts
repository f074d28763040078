import { sectionSummary } from "../../model/outline";
import { onCopies } from "../bodies";
import type { Choice, Kind, Scope } from "../kind";
import { spacing } from "../places";
import { gives } from "../registry";
import { extent } from "../section/starters";
import { withoutHeldRails } from "../heldToRails";
import { longSplines } from "../splines";
import { addRail, leads, railPoints, railShape, railThrough, railWords } from "./rails";

export const kind: Kind = {
  name: "rail",
  title: "Rail",
  result: "rail",
  words: (step) => railWords(step),
  glyph: "rail",
  choices: rails,
  leave: () => ["station", "shape"],
  drawn: (step) => railShape(step).type === "drawing",
  without: withoutHeldRails,
  fair: (step) => railPoints(step).length > 3 || longSplines(step).length > 0,
};

function rails(scope: Scope): Choice[] {
  const { outline, stands, statuses, document, selected, keep, floor } = scope;
  const name = scope.name("Rail");
  const rail = (params: Record<string, unknown>) => keep([addRail(name, params)]);
  const through = railThrough([...stands], statuses);
  const last = stands.at(-1);
  const station = selected && gives(selected, "station") ? selected.id : last?.station;
  const drawn = outline.rails.filter((step) => railShape(step).type === "drawing").map((step) => step.id);
  const body = scope.body?.id;
  const size = extent(last ? sectionSummary(statuses[last.section]) : null);
  const drawnOn = async (where: "front" | "side") => {
    await keep(
      [
        { do: "add-step", kind: "station", name: `${name} station`, params: { plane: where }, alias: "$station" },
        addRail(name, { station: { step: "$station" }, shape: { type: "drawing" } }),
      ],
      true,
    );
  };
  const missing = (there: boolean, what: string) => (there ? undefined : what);
  const edgesOf = async () => {
    const copies = onCopies(statuses[body ?? ""]);
    await rail({ shape: { type: "edges", edge: { step: body ?? "", part: null }, loop: true, ...copies } });
    const made = floor.place.getState().selected;
    // which edge, only the designer knows: the scene waits for it
    if (made) floor.place.setState({ picking: { step: made, path: ["shape", "edge"], what: "edge", many: false } });
  };
  const guided = scope.body?.kind === "loft" && scope.body.params["between"] !== "straight" ? scope.body : null;
  const original = selected && gives(selected, "rail") ? selected : null;
  // the image of a rail that guides a body guides it too; a mirrored body has it already
  const led = document.steps.filter((step) => original && !step.params["mirrored"] && leads(original, step));
  const image = () =>
    keep([
      {
        ...addRail(name, { shape: { type: "image", rail: { step: original?.id ?? "" } } }),
        alias: "$image",
        before: led[0]?.id ?? null,
      },
      ...led.map((step) => ({
        do: "set-param" as const,
        step: step.id,
        path: ["rails"],
        value: [...(step.params["rails"] as unknown[]), { step: "$image" }],
      })),
    ]);
  const choices: Omit<Choice, "verb">[] = [
    {
      title: "Rail through the sections",
      apart: true,
      act: () => rail({ shape: { type: "spline", points: through } }),
      disabled: missing(through.length > 1, "needs two sections"),
    },
    {
      title: guided ? `Rail that guides ${guided.name}` : "Rail that guides the body",
      act: () =>
        keep([
          {
            ...addRail(name, { shape: { type: "spline", points: through } }),
            alias: "$rail",
            before: guided?.id ?? null,
          },
          {
            do: "set-param",
            step: guided?.id ?? "",
            path: ["rails"],
            value: [...((guided?.params["rails"] as unknown[] | undefined) ?? []), { step: "$rail" }],
          },
        ]),
      disabled: missing(guided !== null && through.length > 1, "needs a smooth loft"),
    },
    { title: "Rail drawn from the front", act: () => drawnOn("front") },
    { title: "Rail drawn from the side", act: () => drawnOn("side") },
    {
      title: "Rail from two drawn rails",
      act: () =>
        rail({ shape: { type: "views", first: { step: drawn.at(-2) ?? "" }, second: { step: drawn.at(-1) ?? "" } } }),
      disabled: missing(drawn.length > 1, "needs two drawn rails"),
    },
    {
      title: "Drawn rail laid on the body",
      act: () => rail({ shape: { type: "laid", rail: { step: drawn.at(-1) ?? "" }, body: { step: body ?? "" } } }),
      disabled: missing(drawn.length > 0 && body !== undefined, "needs a drawn rail and a body"),
    },
    {
      title: original ? `Mirror image of ${original.name}` : "Mirror image of a rail",
      act: image,
      disabled: missing(original !== null, "select a rail first"),
    },
    { title: "Rail along edges of the body", act: edgesOf, disabled: missing(body !== undefined, "needs a body") },
    {
      title: "Helix",
      act: () =>
        rail({
          station: { step: station ?? "" },
          shape: { type: "helix", radius: Math.round(size.width / 2), rise: spacing(document.unit), turns: 3 },
        }),
      disabled: missing(station !== undefined, "needs a station"),
    },
  ];
  return choices.map((choice) => ({ verb: "Draw", ...choice }));
}
