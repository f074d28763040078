import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { queries } from "../api/queries";
import type { Step } from "../api/types";
import { useDocument, useFloor, useStatus } from "../floor/context";
import { railShape, railSummary } from "../model/rails";
import { length } from "../model/units";
import { bodyGeometry, RING, UNDER } from "../scene/bodyGeometry";
import { Facts } from "./Facts";
import { RailPoints } from "./RailPoints";
import { ParamField, Picker, SchemaFields } from "./SchemaForm";
import type { Schema } from "./schema";

/** A rail: what it is made of, and how long it is. */
export function RailSheet({ step }: { step: Step }) {
  const { unit } = useDocument();
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === "rail")?.params as Schema | undefined;
  const summary = railSummary(useStatus(step.id));
  const shape = railShape(step);
  const { type } = shape;
  const of = root?.properties?.["shape"]?.discriminator?.mapping[type];
  return (
    <>
      {(type === "helix" || type === "drawing") && <ParamField step={step} name="station" />}
      {type === "spline" && <RailPoints step={step} />}
      {type === "edges" && <EdgePicker step={step} />}
      {type !== "drawing" && root && of && (
        <SchemaFields step={step} path={["shape"]} of={of} root={root} value={shape} leave={["edge", "points"]} />
      )}
      {summary && summary.length > 0 && (
        <Facts
          facts={[
            ["Length", length(summary.length, unit)],
            ["Ends", summary.closed ? "closed" : "open"],
            ...(summary.strays > 1e-6 ? [["Strays by", length(summary.strays, unit)] as [string, string]] : []),
          ]}
        />
      )}
    </>
  );
}

/** The edges of the body by name; they can be picked in the scene as well. */
function EdgePicker({ step }: { step: Step }) {
  const { change } = useFloor();
  const edge = railShape(step)["edge"] as { step: string; part?: string };
  const mesh = useStatus(edge.step)?.mesh;
  const [names, setNames] = useState<string[]>([]);
  useEffect(() => {
    let wanted = true;
    if (mesh)
      void bodyGeometry(mesh)
        .then(
          ({ lines }) =>
            wanted && setNames(lines.map((l) => l.name.replace(UNDER, "")).filter((name) => !name.startsWith(RING))),
        )
        .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [mesh]);
  return (
    <Picker
      label="Edge"
      value={edge.part ?? ""}
      choices={names.map((name) => ({
        value: name,
        title: name.replaceAll(`${edge.step}/`, "").replace("|", " and "),
      }))}
      onPick={(part) => change([{ do: "set-param", step: step.id, path: ["shape", "edge", "part"], value: part }])}
    />
  );
}
