import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSnackbar } from "notistack";
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import { problemOf } from "../api/problems";
import { queries } from "../api/queries";
import type { Card, Design } from "../api/types";
import { Mark } from "../app/Mark";
import { useProblem } from "../app/useProblem";
import { colours } from "../theme/colours";
import { ActionButton } from "../reach/ActionButton";
import { Reach } from "../reach/Reach";
import { SearchField } from "../reach/SearchField";
import { DesignCard } from "./DesignCard";
import { useRackActions } from "./useRackActions";

/** All designs as cards, and the ways to start another. */
export function RackPage() {
  const { data: cards, error, refetch } = useQuery(queries.rack());
  const cache = useQueryClient();
  const navigate = useNavigate();
  const problem = useProblem();
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const again = () => cache.invalidateQueries({ queryKey: queries.rack().queryKey });
  const go = (design: Design) => void navigate(`/design/${design.id}`);
  const create = useMutation({ mutationFn: () => api.create("New design"), onSuccess: go, onError: problem });
  const open = useMutation({ mutationFn: (file: Blob) => api.openFile(file), onSuccess: go, onError: problem });
  const demo = useMutation({ mutationFn: api.loadDemo, onSuccess: again, onError: problem });
  const restore = useMutation({ mutationFn: (file: Blob) => api.openFile(file), onSuccess: again, onError: problem });
  const remove = useMutation({
    mutationFn: async (card: Card) => {
      const { data } = await api.document(card.id);
      await api.remove(card.id);
      return { card, data };
    },
    onSuccess: ({ card, data }) => {
      void again();
      enqueueSnackbar(`${card.name} is off the rack.`, {
        action: (key) => (
          <Button
            color="inherit"
            onClick={() => {
              closeSnackbar(key);
              restore.mutate(data);
            }}
          >
            Put it back
          </Button>
        ),
      });
    },
    onError: problem,
  });
  const take = (files: FileList | null) => {
    const file = files?.[0];
    if (file) open.mutate(file);
  };

  const { mutate: started } = create;
  const { mutate: shown } = demo;
  const { mutate: taken } = remove;
  const doing = useMemo(
    () => ({ create: () => started(), demo: () => shown(), remove: taken, open: () => picker.current?.click() }),
    [started, shown, taken],
  );
  const actions = useRackActions(cards, doing);

  return (
    <Reach actions={actions}>
      <Box
        component="main"
        sx={{
          minHeight: "100%",
          p: 4,
          maxWidth: 1360,
          mx: "auto",
          outline: over ? `3px dashed ${colours.estuary}` : "none",
          outlineOffset: -12,
        }}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          take(event.dataTransfer.files);
        }}
      >
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 3 }}>
          <Mark size={34} />
          <Typography variant="h1" sx={{ mr: "auto" }}>
            Rack
          </Typography>
          <SearchField />
          <ActionButton of="Open a file" />
          <ActionButton of="Put the demo set here" />
          <ActionButton of="New design" variant="contained" />
          <input
            ref={picker}
            type="file"
            accept=".json,application/json"
            hidden
            aria-label="Design file"
            onChange={(event) => {
              take(event.target.files);
              event.target.value = "";
            }}
          />
        </Box>
        {!cards && error && (
          <Box role="alert" sx={{ mt: 10, display: "grid", justifyItems: "center", gap: 1, textAlign: "center" }}>
            <Typography variant="h3">{problemOf(error).title}</Typography>
            <Typography color="text.secondary">{problemOf(error).detail}</Typography>
            <Button variant="outlined" onClick={() => void refetch()} sx={{ mt: 1 }}>
              Try again
            </Button>
          </Box>
        )}
        {cards?.length === 0 && (
          <Typography sx={{ mt: 10, textAlign: "center" }} color="text.secondary">
            The rack is empty. Start a new design, drop a file here, or put the demo set here and take one apart.
          </Typography>
        )}
        <Box
          component="ul"
          sx={{
            display: "grid",
            gridTemplateColumns: "repeat(auto-fill, minmax(272px, 1fr))",
            gap: 2.5,
            p: 0,
            m: 0,
            listStyle: "none",
          }}
        >
          {cards?.map((card) => (
            <DesignCard key={card.id} card={card} onRemove={() => remove.mutate(card)} />
          ))}
        </Box>
      </Box>
    </Reach>
  );
}
