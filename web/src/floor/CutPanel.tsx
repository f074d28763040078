import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonGroup from "@mui/material/ButtonGroup";
import IconButton from "@mui/material/IconButton";
import Slider from "@mui/material/Slider";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { queries } from "../api/queries";
import { Sign } from "../app/Sign";
import { dot } from "../model/outline";
import type { Cut } from "../model/place";
import { area, lengthNumber } from "../model/units";
import type { Viewport } from "../scene/viewport";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { AXES, cutAlong, cutAt } from "./cutOpen";
import { useDocument, useFloor, useHead, usePlace, useStep } from "./context";
import { useChosenPlane } from "./useChosenPlane";

type Triple = Cut["axis"];
const STEPS = 400;
/** ms without a change after which the area is asked for. */
const REST = 180;

/** The bodies cut open: along which axis, how far, and the area that is cut. */
export function CutPanel({ viewport }: { viewport: Viewport | null }) {
  const { place } = useFloor();
  const cut = usePlace((p) => p.cut);
  const plane = useChosenPlane();
  const name = useStep(usePlace((p) => p.selected))?.name;
  const open = (axis: Triple) => viewport && place.setState({ cut: cutAlong(viewport, axis) });
  const facing = () => {
    const eye = viewport?.towardsEye() ?? [0, -1, 0];
    const turned = AXES.toSorted((a, b) => Math.abs(dot(b.axis, eye)) - Math.abs(dot(a.axis, eye)));
    return turned[0]?.axis ?? [0, 1, 0];
  };
  if (!cut)
    return (
      <Button size="small" variant="outlined" onClick={() => open(facing())} sx={{ bgcolor: colours.panel }}>
        Cut open
      </Button>
    );
  return (
    <Box
      role="group"
      aria-label="Cut open"
      sx={{
        width: 284,
        p: 1,
        display: "grid",
        gridTemplateColumns: "minmax(0, 1fr)",
        gap: 0.5,
        bgcolor: colours.panel,
        border: `1px solid ${colours.hairline}`,
        borderRadius: 1,
      }}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, "& button": { minWidth: 34, whiteSpace: "nowrap" } }}>
        <ButtonGroup size="small" aria-label="Along">
          {AXES.map(({ title, axis }) => (
            <Button
              key={title}
              variant="outlined"
              aria-pressed={Math.abs(dot(axis, cut.axis)) > 1 - 1e-9}
              onClick={() => open(axis)}
              sx={Math.abs(dot(axis, cut.axis)) > 1 - 1e-9 ? { bgcolor: colours.estuaryWash } : {}}
            >
              {title}
            </Button>
          ))}
          {plane && name && (
            <Button
              variant="outlined"
              onClick={() => place.setState({ cut: cutAt(plane, viewport) })}
              sx={{ maxWidth: 84, overflow: "hidden", whiteSpace: "nowrap" }}
            >
              {name}
            </Button>
          )}
        </ButtonGroup>
        <Button
          size="small"
          variant="outlined"
          onClick={() => place.setState({ cut: { axis: cut.axis.map((v) => -v) as unknown as Triple, at: -cut.at } })}
        >
          Other side
        </Button>
        <IconButton
          size="small"
          aria-label="Close the cut"
          onClick={() => place.setState({ cut: null })}
          sx={{ ml: "auto" }}
        >
          <Sign of="remove" />
        </IconButton>
      </Box>
      <Along cut={cut} viewport={viewport} />
    </Box>
  );
}

function Along({ cut, viewport }: { cut: Cut; viewport: Viewport | null }) {
  const { place, id } = useFloor();
  const { revision } = useHead().design;
  const { unit } = useDocument();
  const box = viewport?.extent();
  const settled = useSettled(cut);
  const { data } = useQuery({ ...queries.section(id, revision, settled.axis, settled.at), enabled: settled === cut });
  const hidden = usePlace((p) => p.hidden);
  const whole = data?.filter(({ step }) => !hidden.includes(step)).reduce((sum, one) => sum + one.area, 0);
  const found = whole === undefined ? null : area(whole, unit);
  // the corners of the box that lie nearest and furthest along the axis
  const ends = [-1, 1].map((side) =>
    dot(cut.axis.map((v, i) => (v * side > 0 ? box?.high : box?.low)?.[i] ?? 0) as unknown as Triple, cut.axis),
  );
  const [low, high] = [ends[0] ?? 0, ends[1] ?? 1];
  return (
    <>
      <Slider
        size="small"
        aria-label="How far"
        min={low}
        max={high}
        step={(high - low) / STEPS || 1}
        value={Math.min(Math.max(cut.at, low), high)}
        valueLabelDisplay="off"
        getAriaValueText={(value) => `${lengthNumber(value, unit)} ${unit}`}
        onChange={(_, at) => place.setState({ cut: { axis: cut.axis, at: at as number } })}
        sx={{ mx: 0.75, width: "auto" }}
      />
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
        <span style={numbers}>
          {lengthNumber(cut.at, unit)} {unit}
        </span>
        <Box component="span" role="status" aria-label="Area cut" sx={numbers}>
          {settled === cut && found ? `${found.value} ${found.unit}` : ""}
        </Box>
      </Box>
    </>
  );
}

/** The cut once it stands still for a moment: its area is worked out then. */
function useSettled(cut: Cut): Cut {
  const [settled, setSettled] = useState(cut);
  useEffect(() => {
    const later = setTimeout(() => setSettled(cut), REST);
    return () => clearTimeout(later);
  }, [cut]);
  return settled;
}
