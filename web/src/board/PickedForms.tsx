import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useMemo, useState } from "react";
import { useDocument } from "../floor/context";
import { lengthNumber } from "../model/units";
import { TypedFields } from "../sheet/TypedFields";
import { useTyped, wrongIn, type Field, type Texts } from "../sheet/useTyped";
import { bendingNear, piecesOf } from "./bezier";
import { named, type Act, type Curve } from "./drawing";
import type { BoardState } from "./useBoard";

const NOTHING: Texts = {};

/** What is picked, moved, turned and scaled about a place by typed numbers; across by another factor than up: stretched. */
export function MoveForm({ board, things }: { board: BoardState; things: string[] }) {
  const { unit } = useDocument();
  const [texts, setTexts] = useState<Texts>(NOTHING);
  const fields = useMemo(
    (): Field[] => [
      { name: "x", title: `x (${unit})`, kind: "length", hint: "0" },
      { name: "y", title: `y (${unit})`, kind: "length", hint: "0" },
      { name: "turn", title: "Turn (deg)", kind: "angle", hint: "0" },
      { name: "scale", title: "Scale", kind: "count", hint: "1" },
      { name: "across", title: "Across by", kind: "count", hint: "as scale" },
      { name: "aboutX", title: "About x", kind: "length", hint: "0" },
      { name: "aboutY", title: "About y", kind: "length", hint: "0" },
    ],
    [unit],
  );
  const told = useTyped(fields, texts);
  const apply = async (copy: boolean) => {
    const typed = await told(texts);
    if (Object.values(typed).some(({ worth }) => worth === null)) return;
    const number = (name: string, otherwise: number) => typed[name]?.worth ?? otherwise;
    const scale = number("scale", 1);
    const across = number("across", scale);
    if (!(scale > 0 && across > 0)) return;
    const by: [number, number] = [number("x", 0), number("y", 0)];
    const acts: Act[] = [];
    if (number("turn", 0) !== 0 || scale !== 1 || across !== 1)
      acts.push({
        act: "turn",
        things,
        about: [number("aboutX", 0), number("aboutY", 0)],
        angle: number("turn", 0),
        scale,
        stretch: across === scale ? null : across,
      });
    if (copy || by.some((d) => d !== 0)) acts.push({ act: "move", things, by, copy });
    setTexts(NOTHING);
    if (acts.length) void board.act(acts);
  };
  const turned = ["turn", "scale", "across"].some((name) => texts[name]?.trim());
  const now = Object.values(told.now);
  const sound = now.every(({ why }) => !why) && ["scale", "across"].every((name) => (told.now[name]?.worth ?? 1) > 0);
  return (
    <Box component="details">
      <Box component="summary" sx={{ fontSize: 13, cursor: "pointer", minHeight: 24 }}>
        Move, turn, scale, stretch
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 0.75, mt: 0.5 }}>
        <TypedFields fields={fields} texts={texts} told={told} onChange={setTexts} />
      </Box>
      <Box sx={{ display: "flex", gap: 0.75, mt: 0.75 }}>
        <Button variant="outlined" disabled={!sound} onClick={() => void apply(false)}>
          Move them
        </Button>
        <Button variant="outlined" disabled={!sound || turned} onClick={() => void apply(true)}>
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
  const [texts, setTexts] = useState<Texts>(NOTHING);
  const { unit } = useDocument();
  const [direction, strength, held] = [handle?.angle, handle?.pull ?? 1, handle?.bend ?? null];
  const { drawn } = board;
  const place = drawn.points[point];
  const path = drawn.now?.curves.find((c) => c.id === curve.id)?.path ?? "";
  const here = place && bendingNear(piecesOf(path), place);
  const fields = useMemo(
    (): Field[] => [
      {
        name: "angle",
        title: "Direction (deg)",
        kind: "angle",
        hint: direction === undefined ? "" : String(direction),
      },
      { name: "pull", title: "Its length", kind: "count", hint: String(strength) },
      {
        name: "radius",
        title: `Radius (${unit})`,
        kind: "length",
        hint: held ? lengthNumber(1 / Math.abs(held), unit) : "",
      },
    ],
    [direction, strength, held, unit],
  );
  const told = useTyped(fields, texts);
  const last = at === (curve.through?.length ?? 0) - 1;
  const inner = curve.closed || (at > 0 && !last);
  const sharp = curve.sharp?.includes(at) ?? false;
  const straight = curve.straight?.includes(at) ?? false;
  const { act } = board;
  const set = async () => {
    const typed = await told(texts);
    const radius = typed["radius"]?.worth;
    // a radius alone is led the way that the curve runs there
    const own = radius && here ? (Math.atan2(-here.left[0], here.left[1]) * 180) / Math.PI : undefined;
    const [angle, pull] = [typed["angle"]?.worth ?? direction ?? own, typed["pull"]?.worth ?? strength];
    const bend = radius ? ((held ?? here?.bend ?? 0) < 0 ? -1 : 1) / radius : held;
    if (wrongIn(typed) || angle === undefined || !(pull > 0)) return;
    setTexts(NOTHING);
    await act([{ act: "spline-handle", curve: curve.id, at, angle, pull, bend }]);
  };
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
        <TypedFields fields={fields} texts={texts} told={told} onChange={setTexts} onEnter={() => void set()} />
        <Button
          variant="outlined"
          disabled={
            (!texts["angle"]?.trim() && !texts["radius"]?.trim() && direction === undefined) ||
            wrongIn(told.now) !== undefined
          }
          onClick={() => void set()}
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

/** What can be drawn anew as a spline through a few points. */
export const isRound = (curve: Curve): boolean => ["circle", "ellipse", "arc", "foil", "poles"].includes(curve.type);

const FEW: Field[] = [{ name: "points", title: "Points", kind: "count", hint: "12" }];

/** A round or a foil, drawn anew as a spline that is pulled by a few points. */
export function AsSplineForm({ board, curve }: { board: BoardState; curve: Curve }) {
  const [texts, setTexts] = useState<Texts>(NOTHING);
  const told = useTyped(FEW, texts);
  const apply = async () => {
    const points = Math.round((await told(texts))["points"]?.worth ?? 12);
    board.store.setState({ picked: [] });
    await board.act([{ act: "as-spline", curve: curve.id, points }]);
  };
  const points = told.now["points"]?.worth ?? 12;
  return (
    <Box sx={{ display: "flex", gap: 0.75, alignItems: "end" }}>
      <TypedFields fields={FEW} texts={texts} told={told} onChange={setTexts} />
      <Button
        variant="outlined"
        disabled={wrongIn(told.now) !== undefined || !(points >= 4 && points <= 100)}
        onClick={() => void apply()}
      >
        Make it a spline
      </Button>
    </Box>
  );
}
