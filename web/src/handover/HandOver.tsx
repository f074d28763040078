import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Density } from "../api/client";
import { problemOf } from "../api/problems";
import { queries } from "../api/queries";
import type { FileFormat } from "../api/types";
import { saveFile } from "../app/saveFile";
import { useBuilt, useHead } from "../floor/context";
import { length } from "../model/units";
import { NumberField } from "../sheet/NumberField";
import { colours } from "../theme/colours";
import { Polygons } from "./Polygons";

const FORMATS: { format: FileFormat | "json"; title: string; holds: string; mesh: boolean }[] = [
  {
    format: "step",
    title: "STEP",
    holds: "Exact surfaces as one valid solid for each body, in millimetres.",
    mesh: false,
  },
  { format: "stl", title: "STL", holds: "Watertight triangles for printing, in millimetres.", mesh: true },
  {
    format: "glb",
    title: "GLB",
    holds: "Triangles with smooth normals for pictures and the web, in metres.",
    mesh: true,
  },
  {
    format: "obj",
    title: "OBJ",
    holds: "Polygons of four sides, counted or within a tolerance, in millimetres.",
    mesh: true,
  },
  {
    format: "json",
    title: "Wander design",
    holds: "The design itself, in the open format: every step, every number.",
    mesh: false,
  },
];

/** mm between which chords can be asked for. */
const FINEST = [1e-4, 10] as const;

/** Files out: the format, the one setting that matters, and what the file will hold. */
export function HandOver({ onClose }: { onClose: () => void }) {
  const { design } = useHead();
  const statuses = useBuilt((built) => built.steps);
  const { unit, steps } = design.document;
  const [format, setFormat] = useState<FileFormat | "json">("step");
  const [density, setDensity] = useState<Density>({ tolerance: 0.05, around: null, along: null, loops: [] });
  const { tolerance } = density;
  const cache = useQueryClient();
  const worthOf = async (typed: number | string, kind: "length" | "count") =>
    typeof typed === "number"
      ? typed
      : (await cache.fetchQuery(queries.worth(design.id, design.revision, typed, kind))).value;
  const keepTolerance = async (typed: number | string) => {
    const worth = await worthOf(typed, "length");
    if (worth !== null) setDensity((now) => ({ ...now, tolerance: Math.min(FINEST[1], Math.max(FINEST[0], worth)) }));
    return worth;
  };
  const chosen = FORMATS.find((item) => item.format === format);
  const bodies = steps.filter((step) => statuses[step.id]?.mesh);
  const none = bodies.length === 0 && format !== "json";
  const save = useMutation({
    mutationFn: () => (format === "json" ? api.document(design.id) : api.export(design.id, format, density)),
    onSuccess: (file) => {
      saveFile(file);
      onClose();
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth={format === "obj" ? "md" : "sm"}
      fullWidth
      aria-labelledby="hand-over-title"
    >
      <DialogTitle id="hand-over-title" sx={{ fontWeight: 600, pb: 1 }}>
        Hand over {design.document.name}
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        <Box role="radiogroup" aria-label="Format" sx={{ display: "grid", gap: 1 }}>
          {FORMATS.map((item, i) => (
            <ButtonBase
              key={item.format}
              role="radio"
              aria-checked={format === item.format}
              tabIndex={format === item.format ? 0 : -1}
              onClick={() => setFormat(item.format)}
              onKeyDown={(event) => {
                // arrows go from one to the next, and choose it
                const way = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
                if (!way) return;
                event.preventDefault();
                const next = FORMATS[(i + way + FORMATS.length) % FORMATS.length];
                const all = event.currentTarget.parentElement?.children;
                if (next) setFormat(next.format);
                (all?.[(i + way + FORMATS.length) % FORMATS.length] as HTMLElement | undefined)?.focus();
              }}
              sx={{
                display: "grid",
                gridTemplateColumns: "130px 1fr",
                textAlign: "left",
                justifyContent: "start",
                p: 1.25,
                borderRadius: 1,
                border: `1px solid ${format === item.format ? colours.estuary : colours.hairline}`,
                bgcolor: format === item.format ? colours.estuaryWash : colours.panel,
              }}
            >
              <b>{item.title}</b>
              <span>{item.holds}</span>
            </ButtonBase>
          ))}
        </Box>
        {chosen?.mesh && !(format === "obj" && density.around !== null) && (
          <NumberField label="Chords stay within" kind="length" value={tolerance} onKeep={keepTolerance} />
        )}
        {format === "obj" && !none && (
          <Polygons density={density} counted={(typed) => worthOf(typed, "count")} onChange={setDensity} />
        )}
        <Typography variant="body2" color={none ? "error" : "text.secondary"} role="status">
          {none
            ? "There is no body to hand over yet: shape one first, or settle what keeps it from building."
            : format === "json"
              ? `${steps.length} steps, ${design.document.dimensions.length} named dimensions.`
              : `Holds ${bodies.map((step) => step.name).join(", ")}${chosen?.mesh && density.around === null ? `, to ${length(tolerance, unit)}` : ""}.`}
        </Typography>
        {save.isError && (
          <Typography variant="body2" color="error" role="alert">
            {problemOf(save.error).title}. {problemOf(save.error).detail}
          </Typography>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>
          Not now
        </Button>
        <Button variant="contained" onClick={() => save.mutate()} disabled={none || save.isPending}>
          {save.isPending ? "Writing…" : "Save the file"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
