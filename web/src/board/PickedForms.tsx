import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useDocument } from "../floor/context";
import { millimetres } from "../model/units";
import { named, type Act, type Curve } from "./drawing";
import { SmallField } from "./SmallField";
import type { BoardState } from "./useBoard";

const BLANK = { x: "", y: "", turn: "", scale: "", across: "", aboutX: "", aboutY: "" };

/** What is picked, moved, turned and scaled about a place by typed numbers; across by another factor than up: stretched. */
export function MoveForm({ board, things }: { board: BoardState; things: string[] }) {
  const { unit } = useDocument();
  const [typed, setTyped] = useState(BLANK);
  const mm = millimetres(unit);
  const number = (text: string, otherwise: number) => (text.trim() ? Number(text) : otherwise);
  const values = {
    x: number(typed.x, 0),
    y: number(typed.y, 0),
    turn: number(typed.turn, 0),
    scale: number(typed.scale, 1),
    across: number(typed.across, number(typed.scale, 1)),
    aboutX: number(typed.aboutX, 0),
    aboutY: number(typed.aboutY, 0),
  };
  const { scale, across } = values;
  const turned = values.turn !== 0 || scale !== 1 || across !== 1;
  const sound = Object.values(values).every(Number.isFinite) && scale > 0 && across > 0;
  const apply = (copy: boolean) => {
    const acts: Act[] = [];
    if (turned)
      acts.push({
        act: "turn",
        things,
        about: [values.aboutX * mm, values.aboutY * mm],
        angle: values.turn,
        scale,
        stretch: across === scale ? null : across,
      });
    if (copy || values.x !== 0 || values.y !== 0)
      acts.push({ act: "move", things, by: [values.x * mm, values.y * mm], copy });
    setTyped(BLANK);
    if (acts.length) void board.act(acts);
  };
  return (
    <Box component="details">
      <Box component="summary" sx={{ fontSize: 13, cursor: "pointer", minHeight: 24 }}>
        Move, turn, scale, stretch
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 0.75, mt: 0.5 }}>
        {(
          [
            ["x", `x (${unit})`],
            ["y", `y (${unit})`],
            ["turn", "Turn (deg)"],
            ["scale", "Scale"],
            ["across", "Across by"],
            ["aboutX", `About x`],
            ["aboutY", `About y`],
          ] as const
        ).map(([name, title]) => (
          <SmallField
            key={name}
            title={title}
            value={typed[name]}
            onChange={(text) => setTyped({ ...typed, [name]: text })}
          />
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, mt: 0.75 }}>
        <Button variant="outlined" disabled={!sound} onClick={() => apply(false)}>
          Move them
        </Button>
        <Button variant="outlined" disabled={!sound || turned} onClick={() => apply(true)}>
          Copy there
        </Button>
      </Box>
    </Box>
  );
}

/** A point of a spline: sharp or smooth, its direction, the span after it straight or bent, a further point. */
export function SplinePointForm({ board, curve, point }: { board: BoardState; curve: Curve; point: string }) {
  const at = curve.through?.indexOf(point) ?? -1;
  const handle = curve.handles?.find((h) => h.at === at);
  const [angle, setAngle] = useState("");
  const [pull, setPull] = useState("");
  const last = at === (curve.through?.length ?? 0) - 1;
  const inner = curve.closed || (at > 0 && !last);
  const sharp = curve.sharp?.includes(at) ?? false;
  const straight = curve.straight?.includes(at) ?? false;
  const wanted = Number(angle.trim() || handle?.angle);
  const strength = Number(pull.trim() || (handle?.pull ?? 1));
  const { act } = board;
  return (
    <Box
      role="group"
      aria-label={`Point ${at + 1} of ${named(board.drawn, curve.id)}`}
      sx={{ display: "grid", gap: 0.75 }}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        {inner && (
          <Button
            variant="outlined"
            onClick={() => void act([{ act: "spline-sharp", curve: curve.id, at, on: !sharp }])}
          >
            {sharp ? "Make it smooth" : "Make it sharp"}
          </Button>
        )}
        {(curve.closed || !last) && (
          <>
            <Button
              variant="outlined"
              onClick={() => void act([{ act: "spline-straight", curve: curve.id, span: at, on: !straight }])}
            >
              {straight ? "Bend the span after" : "Straighten the span after"}
            </Button>
            <Button
              variant="outlined"
              onClick={() => void act([{ act: "spline-point", curve: curve.id, after: at, at: null }])}
            >
              Point after it
            </Button>
          </>
        )}
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, alignItems: "end" }}>
        <SmallField
          title="Direction (deg)"
          value={angle}
          hint={handle ? String(handle.angle) : ""}
          onChange={setAngle}
        />
        <SmallField title="Its length" value={pull} hint={String(handle?.pull ?? 1)} onChange={setPull} />
        <Button
          variant="outlined"
          disabled={!Number.isFinite(wanted) || !(strength > 0)}
          onClick={() => {
            setAngle("");
            setPull("");
            void act([{ act: "spline-handle", curve: curve.id, at, angle: wanted, pull: strength }]);
          }}
        >
          Set
        </Button>
        {handle && (
          <Button
            variant="outlined"
            onClick={() => void act([{ act: "spline-handle", curve: curve.id, at, angle: null, pull: 1 }])}
          >
            Let go
          </Button>
        )}
      </Box>
    </Box>
  );
}
