import Box from "@mui/material/Box";
import Chip from "@mui/material/Chip";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type Density } from "../api/client";
import { problemOf } from "../api/problems";
import { useHead } from "../floor/context";
import { NumberField } from "../sheet/NumberField";
import { readWire } from "./wire";
import { WirePicture } from "./WirePicture";

interface Props {
  density: Density;
  /** What a typed text comes to as a count; null where it is none. */
  counted: (typed: number | string) => Promise<number | null>;
  /** What it becomes from what it is then: more may have been typed meanwhile. */
  onChange: (change: (now: Density) => Density) => void;
}

/** More would be a grey patch, and slow. */
const MOST_DRAWN = 60_000;
const MOST_LOOPS = 64;
const COUNTS = { around: 24, along: 32 };

/** How many polygons, counted or within the tolerance, and what the file holds then. */
export function Polygons({ density, counted, onChange }: Props) {
  const { design } = useHead();
  const file = useQuery({
    queryKey: ["polygons", design.id, design.revision, density],
    queryFn: async () => readWire(await (await api.export(design.id, "obj", density)).data.text()),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const byCounts = density.around !== null;
  const keep = (name: "around" | "along") => async (typed: number | string) => {
    const count = await counted(typed);
    if (count === null || count < 1 || count > 4096) return null;
    onChange((now) => ({ ...now, [name]: Math.round(count) }));
    return count;
  };
  const insert = async (typed: number | string) => {
    const percent = await counted(typed);
    if (percent === null || percent < 0 || percent > 100 || density.loops.length >= MOST_LOOPS) return null;
    onChange((now) => ({ ...now, loops: [...new Set([...now.loops, percent / 100])].sort((a, b) => a - b) }));
    return percent;
  };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 360px", gap: 2 }}>
      <Box sx={{ display: "grid", gap: 1, alignContent: "start" }}>
        <ToggleButtonGroup
          exclusive
          fullWidth
          aria-label="How many polygons"
          value={byCounts}
          onChange={(_, on: boolean | null) => {
            if (on !== null) onChange((now) => ({ ...now, ...(on ? COUNTS : { around: null, along: null }) }));
          }}
        >
          <ToggleButton value={false} sx={{ textTransform: "none" }}>
            By tolerance
          </ToggleButton>
          <ToggleButton value sx={{ textTransform: "none" }}>
            Counted
          </ToggleButton>
        </ToggleButtonGroup>
        {byCounts && (
          <>
            <NumberField label="Round each body" kind="count" value={density.around ?? 0} onKeep={keep("around")} />
            <NumberField label="Along it" kind="count" value={density.along ?? 0} onKeep={keep("along")} />
          </>
        )}
        <NumberField label="Another loop at % of its length" kind="number" value="" onKeep={insert} />
        {density.loops.length > 0 && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
            {density.loops.map((share) => (
              <Chip
                key={share}
                size="small"
                label={`${Number((100 * share).toFixed(2))} %`}
                onDelete={() => onChange((now) => ({ ...now, loops: now.loops.filter((other) => other !== share) }))}
              />
            ))}
          </Box>
        )}
      </Box>
      <Box sx={{ display: "grid", gap: 0.5, alignContent: "start" }}>
        {file.data && (
          <>
            {file.data.polygons.length <= MOST_DRAWN && <WirePicture wire={file.data} />}
            <Typography variant="body2" color="text.secondary" data-testid="polygons">
              {file.data.remarks.map((remark) => remark.replace(/^mm; /, "")).join("; ")}.
            </Typography>
          </>
        )}
        {file.isFetching && (
          <Typography variant="body2" color="text.secondary">
            Making the polygons…
          </Typography>
        )}
        {file.isError && (
          <Typography variant="body2" color="error" role="alert">
            {problemOf(file.error).title}. {problemOf(file.error).detail}
          </Typography>
        )}
      </Box>
    </Box>
  );
}
