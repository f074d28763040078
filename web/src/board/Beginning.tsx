import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Step } from "../api/types";
import { useDocument, useFloor } from "../floor/context";
import { broughtBefore } from "../model/order";
import { gives } from "../steps/registry";
import { ActionButton } from "../reach/ActionButton";
import { colours } from "../theme/colours";
import { Glyph } from "./Glyph";
import { TOOLS } from "./tools";

/** What people begin with most. */
const FIRST = ["line", "rectangle", "circle", "slot", "spline"];

/** On an empty sheet: the ways to begin, and what the hand can do. */
export function Beginning({ section, onBringIn }: { section: Step; onBringIn: () => void }) {
  const { change } = useFloor();
  const { steps } = useDocument();
  const others = steps.filter(
    (s) => s.id !== section.id && gives(s, "section") && broughtBefore(section.id, s.id, steps),
  );
  const like = (id: string) =>
    void change([
      ...(broughtBefore(section.id, id, steps) ?? []),
      { do: "set-param", step: section.id, path: ["shape"], value: { type: "copied", section: { step: id } } },
      { do: "release-copy", step: section.id },
    ]);
  return (
    <Box
      component="section"
      aria-label="Begin"
      sx={{
        position: "absolute",
        left: "50%",
        bottom: 40,
        transform: "translateX(-50%)",
        width: "min(420px, calc(100% - 24px))",
        p: 2,
        display: "grid",
        gap: 1.25,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 2,
      }}
    >
      <Typography variant="h3">An empty sheet</Typography>
      <Typography variant="body2" color="text.secondary">
        Take a tool by its letter and draw: click, or press and pull. Digits go to its numbers at once, and what is
        typed is held. Things met on the way hold too: the origin, the axes, ends, middles.
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
        {TOOLS.filter(({ id }) => FIRST.includes(id)).map(({ id }) => (
          <ActionButton
            key={id}
            of={`Draw: ${TOOLS.find((tool) => tool.id === id)?.title ?? ""}`}
            startIcon={<Glyph of={id} />}
          />
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Button variant="outlined" onClick={onBringIn}>
          From a file or the library
        </Button>
        {others.length > 0 && (
          <TextField
            select
            size="small"
            label="As another section"
            value=""
            onChange={(event) => like(event.target.value)}
            sx={{ minWidth: 170, flex: 1 }}
          >
            {others.map(({ id, name }) => (
              <MenuItem key={id} value={id}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        )}
      </Box>
    </Box>
  );
}
