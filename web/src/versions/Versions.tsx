import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import OutlinedInput from "@mui/material/OutlinedInput";
import Popover from "@mui/material/Popover";
import Typography from "@mui/material/Typography";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { useFloor, useHead } from "../floor/context";
import { useProblem } from "../app/useProblem";
import { clock } from "../model/units";

/** Named versions: keep this one, go on from an old one, lay an old one over the present. */
export function Versions({ anchor, onClose }: { anchor: HTMLElement; onClose: () => void }) {
  const { id, place, cut } = useFloor();
  const { design } = useHead();
  const cache = useQueryClient();
  const problem = useProblem();
  const queryKey = ["versions", id];
  const { data: versions } = useQuery({ queryKey, queryFn: () => api.versions(id) });
  const [name, setName] = useState("");
  const again = () => cache.invalidateQueries({ queryKey });
  const keep = useMutation({
    mutationFn: () => api.nameVersion(id, design.revision, name.trim()),
    onSuccess: () => {
      setName("");
      void again();
    },
    onError: problem,
  });
  const forget = useMutation({
    mutationFn: (number: number) => api.forgetVersion(id, number),
    onSuccess: again,
    onError: problem,
  });
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
      transformOrigin={{ vertical: "top", horizontal: "right" }}
      slotProps={{ paper: { role: "dialog", "aria-label": "Versions" } }}
    >
      <Box sx={{ p: 2, width: 380, display: "grid", gap: 1.5 }}>
        <Typography variant="h3">Versions</Typography>
        <Box
          component="form"
          sx={{ display: "flex", gap: 1 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (name.trim()) keep.mutate();
          }}
        >
          <OutlinedInput
            size="small"
            fullWidth
            value={name}
            onChange={(event) => setName(event.target.value)}
            placeholder="Name of how it is now"
            inputProps={{ "aria-label": "Name of the version", maxLength: 80 }}
          />
          <Button type="submit" variant="contained">
            Keep
          </Button>
        </Box>
        {versions?.length === 0 && (
          <Typography variant="body2" color="text.secondary">
            Every change is kept anyway. Name a state that is worth coming back to, and it stands here.
          </Typography>
        )}
        {versions?.map((version) => (
          <Box
            key={version.number}
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 0.5,
              contentVisibility: "auto",
              containIntrinsicSize: "auto 36px",
            }}
          >
            <Box sx={{ mr: "auto", minWidth: 0 }}>
              <Typography noWrap>{version.name}</Typography>
              <Typography variant="body2" color="text.secondary">
                {clock(version.created)} · change {version.revision}
              </Typography>
            </Box>
            <Button
              variant="outlined"
              aria-label={`Compare with ${version.name}`}
              onClick={() => {
                place.setState({ compared: { revision: version.revision, name: version.name } });
                onClose();
              }}
            >
              Compare
            </Button>
            <Button
              variant="outlined"
              aria-label={`Open ${version.name}`}
              onClick={() => {
                void cut((base, designId) => api.openRevision(designId, base, version.revision));
                onClose();
              }}
            >
              Open
            </Button>
            <Button
              variant="text"
              color="inherit"
              aria-label={`Forget ${version.name}`}
              onClick={() => forget.mutate(version.number)}
            >
              Forget
            </Button>
          </Box>
        ))}
      </Box>
    </Popover>
  );
}
