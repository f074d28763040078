import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Step } from "../api/types";
import { useDocument, useFloor } from "../floor/context";
import { broughtBefore } from "../model/order";
import { gives } from "../steps/registry";
import { Picker } from "../sheet/SchemaForm";
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
    change([
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
        width: "min(470px, calc(100% - 24px))",
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
        {TOOLS.filter(({ id }) => FIRST.includes(id)).map(({ id, title }) => (
          <ActionButton key={id} of={`Draw: ${title}`} startIcon={<Glyph of={id} />} />
        ))}
      </Box>
      <Box sx={{ display: "grid", gap: 1 }}>
        <Button variant="outlined" onClick={onBringIn} sx={{ justifySelf: "start" }}>
          From a file or the library
        </Button>
        {others.length > 0 && (
          <Picker
            label="As another section"
            value=""
            choices={others.map(({ id, name }) => ({ value: id, title: name }))}
            onPick={like}
          />
        )}
      </Box>
    </Box>
  );
}
