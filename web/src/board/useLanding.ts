import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSnackbar } from "notistack";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, type Placing } from "../api/client";
import type { LengthUnit, Step } from "../api/types";
import { useDocument, useFloor } from "../floor/context";
import { length, lengthNumber, millimetres, trimmed } from "../model/units";
import { useTyped, wrongIn, type Field, type Texts, type Typed } from "../sheet/useTyped";
import { apart, type XY } from "./drawing";
import type { BoardState } from "./useBoard";

const AS_IT_IS: Placing = { scale: 1, turn: 0, x: 0, y: 0, tolerance: 0.01 };
const NOTHING: Texts = {};
const NOWHERE: XY = [0, 0];
/** Files that may hold a foil, which has a chord. */
const POINTS = /\.(dat|txt|csv)$/i;

/** What is chosen of a file, beside its numbers. */
interface Choice {
  /** What one unit of a file is that does not say. */
  unit: LengthUnit | "m";
  /** Layers that stay out. */
  out: readonly string[];
  /** In place of what is drawn. */
  instead: boolean;
}

const FIRST: Choice = { unit: "mm", out: [], instead: false };
const inMm = (unit: Choice["unit"]): number => (unit === "m" ? 1000 : millimetres(unit));

/** Curves from a file that lie over the sheet, to be placed before they are taken. */
export function useLanding(section: Step, board: BoardState) {
  const { cut, id } = useFloor();
  const { unit } = useDocument();
  const { enqueueSnackbar } = useSnackbar();
  const { store, choose } = board;
  const [file, setFile] = useState<File | null>(null);
  const [texts, setTexts] = useState<Texts>(NOTHING);
  const [choice, setChoice] = useState<Choice>(FIRST);
  /** How far it is being pulled. */
  const [shift, setShift] = useState<XY>(NOWHERE);
  const foil = file !== null && POINTS.test(file.name);
  const fields = useMemo(
    (): Field[] => [
      ...(foil ? [{ name: "chord", title: `Chord (${unit})`, kind: "length", hint: "as in the file" } as const] : []),
      { name: "scale", title: "Scaled by", kind: "count", hint: "1" },
      { name: "turn", title: "Turned by (deg)", kind: "angle", hint: "0" },
      { name: "x", title: `x (${unit})`, kind: "length", hint: "0" },
      { name: "y", title: `y (${unit})`, kind: "length", hint: "0" },
      { name: "tolerance", title: `Within (${unit})`, kind: "length", hint: lengthNumber(AS_IT_IS.tolerance, unit) },
    ],
    [foil, unit],
  );
  const told = useTyped(fields, texts);
  const placed = useCallback(
    (typed: Typed, layers: readonly string[]): Placing => ({
      ...AS_IT_IS,
      ...Object.fromEntries(Object.entries(typed).map(([name, { worth }]) => [name, worth])),
      ...(choice.unit === "mm" ? {} : { unit: inMm(choice.unit) }),
      ...(choice.out.length ? { layers: layers.flatMap((layer, i) => (choice.out.includes(layer) ? [] : [i])) } : {}),
    }),
    [choice],
  );
  const [layers, setLayers] = useState<readonly string[]>([]);
  const wrong = wrongIn(told.now) !== undefined || Object.values(told.now).some(({ worth }) => worth === null);
  const placing = placed(told.now, layers);
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ["looked", id, file?.name, file?.size, file?.lastModified, placing],
    queryFn: () => api.look(id, file as File, placing),
    enabled: file !== null && !wrong,
    staleTime: Infinity,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const looked = file && !error ? data : undefined;
  if (looked && !isPlaceholderData && looked.layers.join("\n") !== layers.join("\n")) setLayers(looked.layers);
  /** The file that the sheet was last fitted to. */
  const [fitted, setFitted] = useState<File | null>(null);
  if (looked && !isPlaceholderData && fitted !== file) setFitted(file);
  useEffect(() => {
    if (fitted) store.setState(({ fits }) => ({ fits: fits + 1 }));
  }, [fitted, store]);

  const leave = useCallback(() => {
    setFile(null);
    setFitted(null);
    setShift(NOWHERE);
  }, []);
  const begin = useCallback(
    (next: File) => {
      choose(null);
      setFitted(null);
      setFile(next);
      setTexts(NOTHING);
      setChoice(FIRST);
      setLayers([]);
    },
    [choose],
  );
  const take = useCallback(async () => {
    const typed = await told(texts);
    if (!file || wrongIn(typed)) return;
    const wanted = placed(typed, layers);
    const kept = await cut(async (base, design) => {
      const found = await api.bring(design, base, section.id, file, wanted, choice.instead);
      enqueueSnackbar(
        `${found.curves} ${found.curves === 1 ? "curve" : "curves"} through ${found.points} points, within ${length(Math.max(found.deviation, 1e-6), unit)} of the file`,
        { variant: "success" },
      );
      return found.design;
    });
    if (kept) leave();
  }, [told, texts, file, placed, layers, cut, section.id, choice.instead, enqueueSnackbar, unit, leave]);
  /** It is let go where it was pulled to. */
  const settle = useCallback(
    ([dx, dy]: XY) => {
      const next = (name: "x" | "y", by: number) => lengthNumber((told.now[name]?.worth ?? 0) + by, unit);
      setTexts((old) => ({ ...old, x: next("x", dx), y: next("y", dy) }));
      setShift(NOWHERE);
    },
    [told, unit],
  );
  /** A foil from its nose to its tail, which lie where rails pass. */
  const between = useCallback(
    (nose: XY, tail: XY) => {
      const number = (mm: number) => trimmed(mm / millimetres(unit), 6);
      const turn = (Math.atan2(tail[1] - nose[1], tail[0] - nose[0]) * 180) / Math.PI;
      const placed = {
        chord: number(apart(nose, tail)),
        turn: trimmed(turn, 8),
        x: number(nose[0]),
        y: number(nose[1]),
      };
      setTexts((old) => ({ ...old, ...placed, scale: "" }));
    },
    [unit],
  );
  return {
    file,
    foil,
    between,
    looked,
    why: error,
    stale: isPlaceholderData,
    fields,
    texts,
    setTexts,
    told,
    choice,
    setChoice,
    shift,
    setShift,
    settle,
    begin,
    leave,
    take,
    ready: looked !== undefined && !looked.asks_chord && !wrong,
  };
}

export type Landing = ReturnType<typeof useLanding>;
