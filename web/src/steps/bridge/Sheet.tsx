import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { Step } from "../../api/types";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { ParamField, SchemaFields } from "../../sheet/SchemaForm";
import type { Schema } from "../../sheet/schema";
import { colours } from "../../theme/colours";
import { ENDS, LEAVES } from "./ways";

/** Both ends: which edges, how it leaves them and how full; and how the two runs go together. */
export function Sheet({ step }: { step: Step }) {
  return (
    <>
      <End step={step} side="first" title="From" />
      <End step={step} side="second" title="To" />
      <DrawnChoice step={step} path="ends" title="Ends are" ways={ENDS} />
      <ParamField step={step} name="start" />
      <ParamField step={step} name="against" />
    </>
  );
}

function End({ step, side, title }: { step: Step; side: "first" | "second"; title: string }) {
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const end = (step.params[side] ?? {}) as { meets?: string };
  if (!root) return null;
  return (
    <Box
      role="group"
      aria-label={title}
      sx={{
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr)",
        gap: 1,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
        p: 1,
      }}
    >
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {title}
      </Typography>
      <SchemaFields
        step={step}
        path={[side]}
        of="#/$defs/BridgeEnd"
        root={root}
        value={end}
        leave={["meets", "fullness", "other_face"]}
      />
      <DrawnChoice step={step} path={[side, "meets"]} title="Leaves them" ways={LEAVES} />
      <SchemaFields
        step={step}
        path={[side]}
        of="#/$defs/BridgeEnd"
        root={root}
        value={end}
        leave={["edges", "meets", ...(end.meets === "position" ? ["fullness", "other_face"] : [])]}
      />
    </Box>
  );
}
