import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { memo, useState } from "react";
import { Link } from "react-router";
import type { LengthUnit } from "../api/types";
import { Mark } from "../app/Mark";
import { NameField } from "../app/NameField";
import { HandOver } from "../handover/HandOver";
import { clock } from "../model/units";
import { KeysDialog } from "../reach/KeysDialog";
import { SearchField } from "../reach/SearchField";
import { Versions } from "../versions/Versions";
import { useBuilt, useFloor, useHead, usePlace } from "./context";

const UNITS: LengthUnit[] = ["mm", "cm", "in"];

/** The line at the top: what this is, whether it is kept, and what concerns the design as a whole. */
export const TopLine = memo(function TopLine() {
  const { undo, redo, change, place } = useFloor();
  const { design, saving, away } = useHead();
  const connected = useBuilt((built) => built.connected);
  const handing = usePlace((p) => p.open === "hand over");
  const keys = usePlace((p) => p.open === "keys");
  const [versions, setVersions] = useState<HTMLElement | null>(null);
  const kept = away
    ? "Not kept yet: sent again as soon as the server answers"
    : !connected
      ? "Looking for the server…"
      : saving
        ? "Keeping…"
        : `All changes kept · ${clock(design.changed)}`;
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, height: "100%", px: 1.5 }}>
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
      <Typography variant="body2" color="text.secondary" role="status" sx={{ mr: "auto", whiteSpace: "nowrap" }}>
        {kept}
      </Typography>
      <SearchField />
      <Button variant="outlined" onClick={undo} disabled={!design.can_undo}>
        Undo
      </Button>
      <Button variant="outlined" onClick={redo} disabled={!design.can_redo}>
        Redo
      </Button>
      <Button variant="outlined" aria-haspopup="dialog" onClick={(event) => setVersions(event.currentTarget)}>
        Versions
      </Button>
      <Select
        value={design.document.unit}
        onChange={(event) => void change([{ do: "set-unit", unit: event.target.value }])}
        inputProps={{ "aria-label": "Unit" }}
        sx={{ fontSize: 13, fontWeight: 600, "& .MuiSelect-select": { py: "4px" } }}
      >
        {UNITS.map((unit) => (
          <MenuItem key={unit} value={unit}>
            {unit}
          </MenuItem>
        ))}
      </Select>
      <Button variant="contained" onClick={() => place.setState({ open: "hand over" })}>
        Hand over
      </Button>
      {handing && <HandOver onClose={() => place.setState({ open: null })} />}
      {versions && <Versions anchor={versions} onClose={() => setVersions(null)} />}
      {keys && <KeysDialog onClose={() => place.setState({ open: null })} />}
    </Box>
  );
});
