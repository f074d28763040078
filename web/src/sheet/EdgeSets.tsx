import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import type { Step } from "../api/types";
import { useFloor, useStatus } from "../floor/context";
import { bodyIn, copiesIn, onCopies } from "../steps/bodies";
import { colours } from "../theme/colours";
import { DrawnChoice } from "./DrawnChoice";
import { SchemaFields } from "./SchemaForm";
import type { Schema } from "./schema";
import type { WayDrawn } from "./wayDrawn";

/** Which edges of a body are meant, in small pictures: the edge is inked. */
const WHICH: WayDrawn[] = [
  {
    value: "picked",
    word: "Picked",
    tells: "Those that are picked, with all that goes on smoothly from them",
    path: "M8 24V10L20 5L36 9V22L22 27Z M8 10L22 14V27 M22 14L36 9",
    ink: "M22 14V27",
  },
  {
    value: "outer",
    word: "Outer",
    tells: "All at which the body stands out",
    path: "M8 24V10L20 5L36 9V22L22 27Z M8 10L22 14V27 M22 14L36 9",
    ink: "M8 24V10L20 5L36 9V22L22 27Z M8 10L22 14V27 M22 14L36 9",
  },
  {
    value: "inner",
    word: "Inner",
    tells: "All at which the body goes in",
    path: "M6 26V6H16V18H38V26Z",
    ink: "M16 18h.1",
  },
  {
    value: "meeting",
    word: "Meeting",
    tells: "All at which what several steps made meets",
    path: "M4 24H40 M16 18V5H28V18",
    ink: "M16 18A6 3 0 0 0 28 18A6 3 0 0 0 16 18",
  },
];

const ROWS = { display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 1 };

/** What a document says of one set. */
export type EdgeSet = Record<string, unknown>;

/** Sets of edges that get the same, one below the other. of: their schema. leave: its fields that stand elsewhere. begin: a set that is added. */
export function EdgeSets(props: {
  step: Step;
  of: string;
  leave: (set: EdgeSet) => string[];
  begin: EdgeSet;
  children?: (set: EdgeSet, number: number) => ReactNode;
}) {
  const { step, of, leave, begin, children } = props;
  const { change, place } = useFloor();
  const status = useStatus(bodyIn(step));
  const copies = copiesIn(status) > 0;
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const sets = (step.params["sets"] ?? []) as EdgeSet[];
  if (!root) return null;
  const keep = (next: EdgeSet[]) => change([{ do: "set-param", step: step.id, path: ["sets"], value: next }]);
  const add = async () => {
    await keep([...sets, { ...begin, ...onCopies(status) }]);
    place.setState({ picking: { step: step.id, path: ["sets", sets.length, "edges"], what: "edge", many: true } });
  };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 1 }}>
      {sets.map((set, i) => (
        <Box
          key={i}
          role="group"
          aria-label={sets.length > 1 ? `Edges, set ${i + 1}` : "Edges"}
          sx={sets.length > 1 ? { ...ROWS, border: `1px solid ${colours.hairline}`, borderRadius: 1, p: 1 } : ROWS}
        >
          <DrawnChoice step={step} path={["sets", i, "among"]} title="Which edges" ways={WHICH} />
          <SchemaFields
            step={step}
            path={["sets", i]}
            of={`#/$defs/${of}`}
            root={root}
            value={set}
            leave={["among", ...(copies || set["copies"] ? [] : ["copies"]), ...leave(set)]}
          />
          {children?.(set, i)}
          {sets.length > 1 && (
            <Button
              variant="text"
              onClick={() => void keep(sets.filter((_, k) => k !== i))}
              sx={{ justifySelf: "start" }}
            >
              Remove set {i + 1}
            </Button>
          )}
        </Box>
      ))}
      <Button variant="text" onClick={() => void add()} sx={{ justifySelf: "start" }}>
        Other edges with their own size
      </Button>
    </Box>
  );
}
