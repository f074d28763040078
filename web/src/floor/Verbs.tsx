import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Divider from "@mui/material/Divider";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { memo, useState } from "react";
import { VERBS, type Into, type Makes, type Verb } from "../steps/kind";
import { colours } from "../theme/colours";
import { choicesOf, intoOf, makesOf } from "./choices";
import { useBuilt, useDocument, useFloor, useOutline, usePlace } from "./context";

/** The row of verbs: each opens what fits the selection. */
export const Verbs = memo(function Verbs() {
  const [open, setOpen] = useState<{ verb: Verb; anchor: HTMLElement } | null>(null);
  const close = () => setOpen(null);
  return (
    <Box
      role="toolbar"
      aria-label="Verbs"
      sx={{
        position: "absolute",
        top: 12,
        left: 14,
        display: "flex",
        p: 0.5,
        gap: 0.5,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
      }}
    >
      {VERBS.map((verb) => (
        <Button
          key={verb}
          color="inherit"
          aria-haspopup="menu"
          aria-expanded={open?.verb === verb}
          onClick={(event) => setOpen({ verb, anchor: event.currentTarget })}
          sx={{ fontSize: 14, bgcolor: open?.verb === verb ? colours.estuaryWash : "transparent" }}
        >
          {verb}
        </Button>
      ))}
      <Menu open={open !== null} anchorEl={open?.anchor ?? null} onClose={close}>
        {open && <Choices verb={open.verb} close={close} />}
      </Menu>
    </Box>
  );
});

function Choices({ verb, close }: { verb: Verb; close: () => void }) {
  const floor = useFloor();
  const document = useDocument();
  const outline = useOutline();
  const statuses = useBuilt((built) => built.steps);
  // where new things go is part of what is offered
  usePlace((p) => p.into);
  usePlace((p) => p.makes);
  const choices = choicesOf(floor, document, outline, statuses).filter((choice) => choice.verb === verb);
  const items = choices.flatMap((choice, i) => [
    ...(choice.apart && i ? [<Divider key={`before ${choice.title}`} />] : []),
    <MenuItem
      key={choice.title}
      disabled={choice.disabled !== undefined}
      onClick={() => {
        close();
        void choice.act();
      }}
    >
      {choice.title}
      {choice.disabled && (
        <Box component="span" sx={{ ml: 2, color: colours.inkSoft, fontSize: 13 }}>
          {choice.disabled}
        </Box>
      )}
    </MenuItem>,
  ]);
  return [verb === "Draw" && <GoesInto key="into" />, verb === "Shape" && <BodyMakes key="makes" />, ...items];
}

/** Which body a new section goes into, or a body of its own. */
function GoesInto() {
  const { place } = useFloor();
  const outline = useOutline();
  const { steps } = useDocument();
  const selected = usePlace((p) => p.selected);
  const chosen = usePlace((p) => p.into);
  const rows = outline.groups.filter((group) => group.row);
  if (!rows.length) return null;
  const now = intoOf(
    outline,
    steps.find((step) => step.id === selected),
    chosen,
  );
  const same = (into: Into) => (into === "apart" ? now === "apart" : now !== "apart" && now.body === into.body);
  return (
    <Row
      label="Goes into"
      options={[
        ...rows.map(({ body }) => ({ title: body.name, value: { body: body.id } as Into })),
        { title: "a new body", value: "apart" as Into },
      ].map(({ title, value }) => ({ title, on: same(value), pick: () => place.setState({ into: value }) }))}
    />
  );
}

/** What becomes of the body that is about to be made. */
function BodyMakes() {
  const { place } = useFloor();
  const outline = useOutline();
  const now = makesOf(
    outline,
    usePlace((p) => p.makes),
  );
  const body = outline.standing.at(-1);
  if (!body) return null;
  const options: { title: string; value: Makes }[] = [
    { title: "a new body", value: { type: "new" } },
    { title: `joined to ${body.name}`, value: { type: "join", body: body.id } },
    { title: `cut from ${body.name}`, value: { type: "cut", body: body.id } },
    { title: `kept within ${body.name}`, value: { type: "overlap", body: body.id } },
  ];
  return (
    <Row
      label="Makes"
      options={options.map(({ title, value }) => ({
        title,
        on: now.type === value.type,
        pick: () => place.setState({ makes: value }),
      }))}
    />
  );
}

function Row({ label, options }: { label: string; options: { title: string; on: boolean; pick: () => void }[] }) {
  return (
    <Box
      component="li"
      role="presentation"
      sx={{ px: 2, pt: 0.5, pb: 1, borderBottom: `1px solid ${colours.hairline}` }}
    >
      <Box sx={{ fontSize: 12, color: colours.inkSoft }}>{label}</Box>
      <Box role="group" aria-label={label} sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5, maxWidth: 340 }}>
        {options.map(({ title, on, pick }) => (
          <Button
            key={title}
            variant={on ? "contained" : "outlined"}
            aria-pressed={on}
            onClick={pick}
            sx={{ fontSize: 13, px: 1, py: 0.25 }}
          >
            {title}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
