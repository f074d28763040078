import { Fragment } from "react";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import type { Step } from "../../api/types";
import { useDocument, useFloor, useOutline } from "../../floor/context";
import { NumberMark } from "../../floor/NumberMark";
import { makerOf } from "../../model/outline";
import { lengthNumber } from "../../model/units";
import { numbers } from "../../theme/theme";
import { Sign } from "../../app/Sign";
import { BaySlack } from "./BaySlack";
import { colours } from "../../theme/colours";
import { CREASE } from "./crease";
import { canCrease, hasCrease, hasSlack, isRing, withCrease, type LoftSection } from "./sections";

/** The sections a loft goes through, in order: open one, move it, take it out, put a free one in. */
export function LoftSections({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const { unit } = useDocument();
  const outline = useOutline();
  const items = step.params["sections"] as LoftSection[];
  const stands = makerOf(outline, step.id)?.maker.stands ?? [];
  const keep = (next: LoftSection[]) =>
    void change([{ do: "set-param", step: step.id, path: ["sections"], value: next }]);
  const swap = (i: number) => {
    const next = [...items];
    const [a, b] = [next[i - 1], next[i]];
    if (a && b) [next[i - 1], next[i]] = [b, a];
    keep(next);
  };
  return (
    <Box role="group" aria-label="Sections">
      <Typography variant="h3" sx={{ mb: 0.5 }}>
        Sections
      </Typography>
      {stands.map((stand, i) => (
        <Fragment key={stand.section}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, minHeight: 30 }}>
            <NumberMark number={stand.number} step={stand.section} />
            <Button
              color="inherit"
              onClick={() => place.setState({ selected: stand.section })}
              sx={{ fontWeight: 400, fontSize: 14, mr: "auto" }}
            >
              {stand.name}
            </Button>
            <Box component="span" sx={{ ...numbers, fontSize: 13 }}>
              {lengthNumber(stand.at, unit)}
            </Box>
            {canCrease(step, i) && (
              <IconButton
                size="small"
                onClick={() => void change(withCrease(step, i, !hasCrease(step, i)))}
                aria-label={`Crease at ${stand.name}`}
                aria-pressed={hasCrease(step, i)}
                title={hasCrease(step, i) ? "The body bends anew here" : "Let the body bend anew here"}
                sx={{ color: hasCrease(step, i) ? colours.buoyText : "text.disabled" }}
              >
                <CreaseSign />
              </IconButton>
            )}
            <IconButton
              size="small"
              disabled={i === 0}
              onClick={() => swap(i)}
              aria-label={`Move ${stand.name} one earlier`}
            >
              ↑
            </IconButton>
            <IconButton
              size="small"
              onClick={() => keep(items.filter((_, k) => k !== i))}
              aria-label={`Take ${stand.name} out`}
            >
              <Sign of="remove" />
            </IconButton>
          </Box>
          {hasSlack(step) && (i + 1 < stands.length || isRing(step)) && (
            <BaySlack step={step} bay={i} between={`${stand.name} and ${(stands[i + 1] ?? stands[0])?.name}`} />
          )}
        </Fragment>
      ))}
      {outline.loose.map((stand) => (
        <Button
          key={stand.section}
          variant="outlined"
          onClick={() => keep([...items, { section: { step: stand.section } }])}
          sx={{ mt: 0.5, mr: 0.5 }}
        >
          Add {stand.name}
        </Button>
      ))}
    </Box>
  );
}

function CreaseSign() {
  return (
    <svg width={18} height={18} viewBox="-9 -9 18 18" aria-hidden>
      <path d={CREASE} fill="none" stroke="currentColor" strokeWidth={1.8} strokeLinejoin="round" />
    </svg>
  );
}
