import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useCallback, useEffect, useState } from "react";
import { api } from "../api/client";
import type { Fair, Step } from "../api/types";
import { useProblem } from "../app/useProblem";
import { useDocument, useFloor, useHead } from "../floor/context";
import { length } from "../model/units";
import { linesOf } from "../model/lines";
import { NumberField } from "./NumberField";

const FIRST = 0.5;

/** Smooth what is selected within a tolerance: shown over how it was, and kept only then. things: the curves of a drawing that are meant. */
export function FairCard({ step, things = [] }: { step: Step; things?: readonly string[] }) {
  const { id, live, place, change } = useFloor();
  const { design } = useHead();
  const { revision } = design;
  const { unit } = useDocument();
  const problem = useProblem();
  const [within, setWithin] = useState(FIRST);
  const [found, setFound] = useState<{ fair: Fair; on: number } | null>(null);

  const leave = useCallback(() => {
    setFound(null);
    place.setState({ before: [], lit: [] });
  }, [place]);
  const putBack = useCallback(() => {
    live.preview(design, []);
    leave();
  }, [live, design, leave]);
  // what is only shown goes when something else is looked at
  useEffect(
    () => () => {
      if (place.getState().before.length) {
        live.preview(design, []);
        place.setState({ before: [], lit: [] });
      }
    },
    [live, place, design],
  );

  const show = async (limit: number) => {
    // while a proposal is shown, what is on screen is no longer how it was
    const before = found?.on === revision ? place.getState().before : linesOf(step, live.built.getState().steps);
    try {
      const fair = await api.fair(id, step.id, limit, things);
      setFound({ fair, on: revision });
      place.setState({ before, lit: fair.where ? [fair.where] : [] });
      if (fair.edits.length) live.show(design, fair.edits);
    } catch (error) {
      leave();
      problem(error);
    }
  };
  const keepWithin = async (typed: number | string) => {
    const value = typeof typed === "number" ? typed : (await api.worth(id, typed, "length")).value;
    if (value === null || value <= 0) return null;
    setWithin(value);
    await show(value);
    return value;
  };
  const shown = found?.on === revision ? found.fair : null;
  return (
    <Box component="section" aria-label="Fair" sx={{ display: "grid", gap: 0.75 }}>
      <Typography variant="h3" component="h3">
        Fair
      </Typography>
      <NumberField label="Nothing moves more than" kind="length" value={within} onKeep={keepWithin} />
      {shown && (
        <Typography
          variant="body2"
          role="status"
          data-testid="fair"
          data-moved={shown.moved.toFixed(6)}
          data-share={shown.share}
        >
          {shown.edits.length === 0
            ? "It is as fair as it can be."
            : `Moves ${length(shown.moved, unit)} at the most, and leaves ${(100 * shown.share).toPrecision(2)} % of the change of curvature. ` +
              `${shown.limited} of ${shown.places} places go as far as they may.`}
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 0.75 }}>
        {shown && shown.edits.length > 0 ? (
          <>
            <Button
              variant="contained"
              onClick={() => {
                leave();
                void change(shown.edits);
              }}
            >
              Keep it fair
            </Button>
            <Button variant="outlined" onClick={putBack}>
              Put back
            </Button>
          </>
        ) : (
          <Button variant="outlined" onClick={() => void show(within)}>
            Show it fair
          </Button>
        )}
      </Box>
    </Box>
  );
}
