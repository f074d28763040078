import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { Step } from "../../api/types";
import { useDocument, useFloor } from "../../floor/context";
import { Picker, SchemaFields } from "../../sheet/SchemaForm";
import type { Schema } from "../../sheet/schema";
import { gives } from "../registry";

const WAYS = [
  { value: "top", title: "Top plane" },
  { value: "front", title: "Front plane" },
  { value: "side", title: "Side plane" },
  { value: "station", title: "From a station" },
  { value: "turned", title: "Turned about a line" },
  { value: "points", title: "Through three points" },
  { value: "through", title: "Parallel, through a point" },
  { value: "path", title: "Square to a path" },
  { value: "touching", title: "Touching a face" },
  { value: "loop", title: "In a loop of edges" },
] as const;

/** Where a station stands: on a base plane, or placed from something else. Its offset goes on from there. */
export function Sheet({ step }: { step: Step }) {
  const { change, live, place: floorPlace } = useFloor();
  const { steps } = useDocument();
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const place = (step.params["place"] ?? null) as { type: string } | null;
  const earlier = steps.slice(
    0,
    steps.findIndex((s) => s.id === step.id),
  );
  const station = earlier.findLast((s) => gives(s, "station"))?.id;
  const body = earlier.findLast((s) => gives(s, "body") && live.built.getState().steps[s.id]?.mesh)?.id;
  const possible = WAYS.filter(
    ({ value }) =>
      (station || !["station", "turned", "through"].includes(value)) &&
      (!["touching", "loop"].includes(value) || body !== undefined),
  );
  const starters: Record<string, unknown> = {
    station: { type: "station", station: { step: station } },
    turned: { type: "turned", station: { step: station }, angle: 15 },
    through: { type: "through", station: { step: station }, point: [0, 0, 20] },
    points: {
      type: "points",
      points: [
        [0, 0, 0],
        [10, 0, 0],
        [0, 10, 0],
      ],
    },
    path: {
      type: "path",
      points: [
        [0, 0, 0],
        [0, 0, 50],
        [20, 0, 100],
      ],
      share: 0.5,
    },
    touching: { type: "touching", face: { step: body, part: null }, around: 0.5, along: 0.5 },
    loop: { type: "loop", edge: { step: body, part: null } },
  };
  const pick = (way: string) => {
    // which face or edge, only the designer knows: the scene waits for it
    const what = PICKED[way];
    floorPlace.setState({ picking: what ? { step: step.id, path: ["place", what], what, many: false } : null });
    return way in starters
      ? change([
          { do: "set-param", step: step.id, path: ["place"], value: starters[way] },
          { do: "set-param", step: step.id, path: ["offset"], value: 0 },
        ])
      : change([
          { do: "set-param", step: step.id, path: ["place"], value: null },
          { do: "set-param", step: step.id, path: ["plane"], value: way },
        ]);
  };
  return (
    <>
      <Picker
        label="Placed"
        value={place?.type ?? String(step.params["plane"] ?? "top")}
        choices={[...possible]}
        onPick={pick}
      />
      {place && root && (
        <SchemaFields
          step={step}
          path={["place"]}
          of={`#/$defs/${NAMES[place.type] ?? ""}`}
          root={root}
          value={place}
        />
      )}
    </>
  );
}

/** The schemas of the ways to place a station, by type. */
const NAMES: Record<string, string> = {
  station: "FromStation",
  turned: "Turned",
  points: "ThreePoints",
  through: "Through",
  path: "SquareToPath",
  touching: "Touching",
  loop: "AlongLoop",
};

/** What is picked for a way to place a station. */
const PICKED: Record<string, "face" | "edge"> = { touching: "face", loop: "edge" };
