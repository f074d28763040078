import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Step } from "../api/types";
import { useFloor, usePlace } from "../floor/context";
import { isOnBody } from "../picking/answer";
import { colours } from "../theme/colours";

const WORDS = {
  body: "a body",
  face: "a face of a body",
  edge: "an edge of a body",
  part: "a face or an edge of a body",
  section: "a section",
  station: "a station, or a section that stands on it",
  rail: "a rail",
  spot: "the part that stays",
} as const;

/** While something is to be picked: what, and the way out. */
export function PickingCard({ step }: { step: Step }) {
  const { place } = useFloor();
  const picking = usePlace((p) => (p.picking?.step === step.id ? p.picking : null));
  if (!picking) return null;
  const where = picking.whole ? ", or a whole body in the Build" : isOnBody(picking.what) ? "" : " or in the Build";
  return (
    <Box
      role="status"
      sx={{ bgcolor: colours.buoyWash, border: `1px solid ${colours.buoy}`, borderRadius: 1, p: 1.25, fontSize: 14 }}
    >
      Pick {WORDS[picking.what]} in the scene{where}
      {picking.many ? "; a second click takes it out" : ""}.
      <Box sx={{ mt: 0.75, display: "flex", gap: 1, flexWrap: "wrap" }}>
        {picking.then && (
          <Button
            variant="contained"
            onClick={() => {
              const { then, ...rest } = picking;
              if (then) place.setState({ picking: { ...rest, path: then.path } });
            }}
          >
            {picking.then.words}
          </Button>
        )}
        <Button variant="outlined" onClick={() => place.setState({ picking: null })}>
          {picking.many ? "Done" : "Leave it"}
        </Button>
      </Box>
    </Box>
  );
}
