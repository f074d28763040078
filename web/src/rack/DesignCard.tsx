import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Card } from "../api/types";
import { useSeen } from "../app/useSeen";
import { amount, box } from "../model/units";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";

const day = new Intl.DateTimeFormat(undefined, {
  day: "numeric",
  month: "short",
  hour: "2-digit",
  minute: "2-digit",
  hour12: false,
});

/** One design: its picture, its size, and when it was last changed. */
export function DesignCard({ card, onRemove }: { card: Card; onRemove: () => void }) {
  const [holder, seen] = useSeen<HTMLLIElement>();
  const { data: image } = useQuery({
    queryKey: ["picture", card.shown?.meshes],
    // the renderer is a large part of the script: it comes when there is something to draw
    queryFn: async () => (await import("../scene/pictures")).picture(card.shown?.meshes ?? []),
    enabled: card.shown !== null && seen,
    staleTime: Infinity,
    retry: false,
  });
  const held = card.shown && amount({ ...card.shown, closed: card.shown.volume > 0 }, "mm")[1];
  return (
    <Box
      component="li"
      ref={holder}
      sx={{
        position: "relative",
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
        overflow: "hidden",
        "&:hover": { borderColor: colours.estuary },
        // the card cuts off what lies outside of it
        "& a:focus-visible": { outlineOffset: -3 },
      }}
    >
      <Link to={`/design/${card.id}`} style={{ color: "inherit", textDecoration: "none", display: "block" }}>
        <Box
          sx={{
            height: 196,
            background: `radial-gradient(ellipse at 50% 40%, #fbf8f0, ${colours.paper} 60%, #ebe2d0)`,
            display: "grid",
            placeItems: "center",
          }}
        >
          {image ? (
            <img src={image} alt="" style={{ width: "100%", height: "100%", objectFit: "contain" }} />
          ) : (
            <Typography color="text.secondary" variant="body2">
              {card.building ? "Building…" : card.shown ? "" : "No body yet"}
            </Typography>
          )}
        </Box>
        <Box sx={{ p: 1.5, pb: 1.25, borderTop: `1px solid ${colours.hairline}` }}>
          <Typography variant="h2" noWrap>
            {card.name}
          </Typography>
          <Typography variant="body2" sx={{ ...numbers, mt: 0.25 }}>
            {held ?? "—"}
          </Typography>
          <Typography variant="body2" color="text.secondary" sx={numbers} noWrap>
            {card.shown ? box(card.shown.size, "mm") : "nothing built"}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            Changed {day.format(card.changed * 1000)}
          </Typography>
        </Box>
      </Link>
      <Button
        variant="text"
        color="inherit"
        onClick={onRemove}
        aria-label={`Remove ${card.name} from the rack`}
        sx={{ position: "absolute", right: 6, bottom: 6, color: colours.inkSoft }}
      >
        Remove
      </Button>
    </Box>
  );
}
