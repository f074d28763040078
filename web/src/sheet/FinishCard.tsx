import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useSnackbar } from "notistack";
import { useState } from "react";
import { api } from "../api/client";
import { queries } from "../api/queries";
import type { Finish, Step } from "../api/types";
import { useBuilt, useDocument, useFloor, useHead } from "../floor/context";
import { finishOf, lookOf } from "../model/finish";
import { colours } from "../theme/colours";
import { labelled } from "../theme/theme";
import { NumberField } from "./NumberField";

/** Colours of the yard: paints and stains. */
const PAINTS: { title: string; colour: string }[] = [
  { title: "slate", colour: "#6f7f86" },
  { title: "fog", colour: "#d8dcd6" },
  { title: "sand", colour: "#d9cbaa" },
  { title: "cedar", colour: "#b0764a" },
  { title: "rust", colour: "#a4492c" },
  { title: "marker", colour: "#e0a526" },
  { title: "eelgrass", colour: "#6f8f5e" },
  { title: "deep", colour: "#2f5d74" },
  { title: "pitch", colour: "#3a3f42" },
];
const NOTHING: Finish = { colour: null, gloss: 0.5, material: null, density: null };

/** How a body looks and what it is made of. */
export function FinishCard({ step }: { step: Step }) {
  const { change } = useFloor();
  const { design } = useHead();
  const { enqueueSnackbar } = useSnackbar();
  const { data: materials = [] } = useQuery(queries.materials());
  const { steps } = useDocument();
  const statuses = useBuilt((built) => built.steps);
  const finish = { ...NOTHING, ...finishOf(step, steps, statuses) };
  const [gloss, setGloss] = useState<number | null>(null);
  const keep = (part: Partial<Finish>) => change([{ do: "set-finish", step: step.id, finish: { ...finish, ...part } }]);
  const look = lookOf(finish, materials);
  return (
    <Box component="section" aria-label="Finish" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h3" component="h3">
        Finish
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: labelled, gap: 1, alignItems: "center" }}>
        <span>Made of</span>
        <Select
          displayEmpty
          fullWidth
          value={finish.material ?? ""}
          onChange={({ target }) => {
            const found = materials.find(({ name }) => name === target.value);
            void keep({ material: found?.name ?? null, density: found?.density ?? null });
          }}
          inputProps={{ "aria-label": "Made of" }}
          sx={{ fontSize: 14 }}
        >
          <MenuItem value="">not said</MenuItem>
          {materials.map(({ name }) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </Select>
      </Box>
      {finish.material && (
        <NumberField
          label="Density, g/cm³"
          kind="number"
          value={finish.density ?? 0}
          onKeep={async (typed) => {
            // a density has no expression in the document: what is typed is worked out now
            const { value: density } = await api.worth(design.id, String(typed), "count");
            if (density !== null && density > 0 && density <= 30) return keep({ density });
            enqueueSnackbar("A density is a number of g/cm³, above 0 and up to 30: 0.95, say.");
            return null;
          }}
        />
      )}
      <Box role="group" aria-label="Colour" sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, alignItems: "center" }}>
        {PAINTS.map(({ title, colour }) => (
          <Box
            key={colour}
            component="button"
            type="button"
            title={title}
            aria-label={title}
            aria-pressed={look.colour === colour}
            onClick={() => void keep({ colour })}
            sx={{
              width: 24,
              height: 24,
              p: 0,
              cursor: "pointer",
              borderRadius: "6px",
              bgcolor: colour,
              border: `2px solid ${finish.colour === colour ? colours.buoy : colours.hairline}`,
            }}
          />
        ))}
        {finish.colour && (
          <Button variant="text" onClick={() => void keep({ colour: null })} sx={{ px: 0.5 }}>
            As it comes
          </Button>
        )}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: labelled, gap: 1, alignItems: "center" }}>
        <span>Gloss</span>
        <Slider
          size="small"
          aria-label="Gloss"
          min={0}
          max={1}
          step={0.05}
          value={gloss ?? finish.gloss}
          getAriaValueText={(value) => `${Math.round(value * 100)} %`}
          onChange={(_, value) => setGloss(value as number)}
          onChangeCommitted={(_, value) =>
            // keys may come faster than changes are kept: the newest stays until it is
            void keep({ gloss: value as number }).then(() => setGloss((now) => (now === value ? null : now)))
          }
        />
      </Box>
    </Box>
  );
}
