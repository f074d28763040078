import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import type { BodySummary } from "../api/types";
import { useBuilt, useDocument, useFloor, usePlace } from "../floor/context";
import { area, lengthNumber, trimmed, volume } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";

/** An older state laid over the present one: its numbers beside today's, and by how much they differ. */
export function Compared() {
  const { id, place } = useFloor();
  const { steps, unit } = useDocument();
  const statuses = useBuilt((built) => built.steps);
  const compared = usePlace((p) => p.compared);
  const { data: old } = useQuery({
    queryKey: ["bodies", id, compared?.revision],
    queryFn: () => api.bodiesAt(id, compared?.revision ?? 0),
    enabled: compared !== null,
    staleTime: Infinity,
  });
  if (!compared) return null;
  const largest = Math.max(0, ...(old ?? []).map((body) => body.summary.volume));
  const said = (mm3: number) => volume(mm3, unit, largest).value;
  const surface = (mm2: number) => area(mm2, unit).value;
  const measured = (mm: number) => lengthNumber(mm, unit);
  const side = (i: number) => (s: BodySummary) => (s.high[i] ?? 0) - (s.low[i] ?? 0);
  const facts: [string, (s: BodySummary) => number, (value: number) => string][] = [
    [`Volume ${volume(0, unit, largest).unit}`, (s) => s.volume, said],
    [`Surface ${area(0, unit).unit}`, (s) => s.area, surface],
    [`Size in x ${unit}`, side(0), measured],
    [`Size in y ${unit}`, side(1), measured],
    [`Size in z ${unit}`, side(2), measured],
    [`Centre in z ${unit}`, (s) => s.center[2], measured],
  ];
  return (
    <Box
      role="region"
      aria-label="Comparison"
      sx={{
        p: 2,
        borderBottom: `1px solid ${colours.hairline}`,
        fontSize: 13,
        "& table": { width: "100%", borderCollapse: "collapse" },
        "& td": { ...numbers, textAlign: "right", fontSize: 12, py: 0.25 },
        "& th": { textAlign: "right", fontWeight: 600 },
        "& th:first-of-type": { textAlign: "left" },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", mb: 0.5 }}>
        <b style={{ marginRight: "auto" }}>Compared with {compared.name}</b>
        <Button variant="text" onClick={() => place.setState({ compared: null })}>
          Done
        </Button>
      </Box>
      {old?.map((body) => {
        const now = statuses[body.step]?.summary;
        const name = steps.find((step) => step.id === body.step)?.name ?? body.name;
        return (
          <table key={body.step}>
            <thead>
              <tr>
                <th>{name}</th>
                <th>now</th>
                <th style={{ color: colours.estuary }}>then</th>
                <th>change</th>
              </tr>
            </thead>
            <tbody>
              {facts.map(([fact, pick, say]) => {
                const [then, here] = [pick(body.summary), now?.result === "body" ? pick(now) : null];
                const change = here === null || then === 0 ? null : ((here - then) / Math.abs(then)) * 100;
                return (
                  <tr key={fact} data-fact={fact} data-then={then} data-now={here ?? ""}>
                    <th style={{ fontWeight: 400 }}>{fact}</th>
                    <td>{here === null ? "–" : say(here)}</td>
                    <td>{say(then)}</td>
                    <td>{change === null ? "–" : `${change > 0 ? "+" : ""}${trimmed(change, 2)} %`}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        );
      })}
    </Box>
  );
}
