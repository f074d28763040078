import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { Step } from "../../api/types";
import { useDocument, useStatus } from "../../floor/context";
import { copiesIn } from "../bodies";
import { kindOf } from "../registry";
import { leads, railShape, railSummary } from "./rails";
import { length } from "../../model/units";
import { Facts } from "../../sheet/Facts";
import { RailPoints } from "./RailPoints";
import { ParamField, SchemaFields } from "../../sheet/SchemaForm";
import type { Schema } from "../../sheet/schema";

/** A rail: what it is made of, and how long it is. */
export function Sheet({ step }: { step: Step }) {
  const { unit, steps } = useDocument();
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const summary = railSummary(useStatus(step.id));
  const shape = railShape(step);
  const { type } = shape;
  const of = root?.properties?.["shape"]?.discriminator?.mapping[type];
  const edge = shape["edge"] as { step: string } | undefined;
  const copied = copiesIn(useStatus(edge?.step ?? "")) > 0 || Boolean(shape["copies"]);
  const idle = !steps.some((other) => leads(step, other));
  const welcome = idle && steps.some((other) => kindOf(other).given?.(other, step, steps));
  return (
    <>
      {welcome && (
        <Typography variant="body2" color="text.secondary">
          It leads no body yet. Drag it from the Build onto the one that is to follow it.
        </Typography>
      )}
      {(type === "helix" || type === "drawing") && <ParamField step={step} name="station" />}
      {type === "spline" && <RailPoints step={step} />}
      {type !== "drawing" && root && of && (
        <SchemaFields
          step={step}
          path={["shape"]}
          of={of}
          root={root}
          value={shape}
          leave={["points", ...(copied ? [] : ["copies"])]}
        />
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
