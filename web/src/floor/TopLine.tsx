import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { memo, useState } from "react";
import { Link } from "react-router";
import { Mark } from "../app/Mark";
import { NameField } from "../app/NameField";
import { HandOver } from "../handover/HandOver";
import { clock } from "../model/units";
import { ActionButton } from "../reach/ActionButton";
import { SearchField } from "../reach/SearchField";
import { Versions } from "../versions/Versions";
import { useBuilt, useFloor, useHead, usePlace } from "./context";
import { UNITS } from "./designActions";

/** The line at the top: what this is, whether it is kept, and what concerns the design as a whole. */
export const TopLine = memo(function TopLine() {
  const { change, place } = useFloor();
  const { design, pending, away } = useHead();
  const connected = useBuilt((built) => built.connected);
  const handing = usePlace((p) => p.open === "hand over");
  const [versions, setVersions] = useState<HTMLElement | null>(null);
  const kept = away
    ? "Not kept yet: sent again as soon as the server answers"
    : !connected
      ? "Looking for the server…"
      : pending
        ? "Keeping…"
        : `All changes kept · ${clock(design.changed)}`;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, minHeight: 45, px: 1.5, py: 0.5 }}>
      <Tooltip title="To the rack">
        <Link to="/" aria-label="To the rack" style={{ display: "flex" }}>
          <Mark />
        </Link>
      </Tooltip>
      <NameField
        snug
        size={16}
        label="Name of the design"
        value={design.document.name}
        onKeep={(name) => void change([{ do: "rename-design", name }])}
      />
      <Typography variant="body2" color="text.secondary" role="status" noWrap sx={{ mr: "auto", minWidth: 0 }}>
        {kept}
      </Typography>
      <SearchField />
      <ActionButton of="Undo" />
      <ActionButton of="Redo" />
      <Button variant="outlined" aria-haspopup="dialog" onClick={(event) => setVersions(event.currentTarget)}>
        Versions
      </Button>
      <Select
        value={design.document.unit}
        onChange={(event) => void change([{ do: "set-unit", unit: event.target.value }])}
        inputProps={{ "aria-label": "Unit" }}
        sx={{ fontSize: 14, fontWeight: 500, "& .MuiSelect-select": { py: "4px" } }}
      >
        {UNITS.map((unit) => (
          <MenuItem key={unit} value={unit}>
            {unit}
          </MenuItem>
        ))}
      </Select>
      <ActionButton of="Hand over a file" variant="contained" />
      {handing && <HandOver onClose={() => place.setState({ open: null })} />}
      {versions && <Versions anchor={versions} onClose={() => setVersions(null)} />}
    </Box>
  );
});
