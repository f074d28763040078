import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import { useBuilt, useDocument, useHead } from "../floor/context";
import { length } from "../model/units";
import { isDrawn, measureText } from "./drawing";
import type { BoardState } from "./useBoard";

/** What is told of things that are picked, without holding them. */
export interface Told {
  /** What a measure of them comes to, in words. */
  of: (type: string) => string | undefined;
  /** How long the picked curves are together. */
  length: string | undefined;
}

/** Numbers of a drawing at rest: while it is pulled about they are not told, since they are those of before. */
export function useTold(
  board: BoardState,
  offered: readonly { type: string; of: string[] }[],
  curves: readonly string[],
): Told {
  const { design } = useHead();
  const { unit } = useDocument();
  const pulled = useBuilt((built) => built.shown.endsWith("~")) || board.doing.drag !== null;
  const kinds = new Set(board.rules.filter(({ measure }) => measure).map(({ type }) => type));
  const asked = offered.filter(({ type }) => kinds.has(type)).map(({ type, of }) => ({ type, of }));
  const long = curves.length > 1 || asked.every(({ type }) => type !== "length") ? curves : [];
  const { data } = useQuery({
    ...queries.told(design.id, design.revision, board.section.id, asked, long),
    enabled: isDrawn(board.section) && !pulled && (asked.length > 0 || long.length > 0),
  });
  const known = pulled ? undefined : data;
  return {
    of: (type) => {
      const value = known?.measures[asked.findIndex((one) => one.type === type)];
      return value === undefined || value === null ? undefined : measureText(type, value, unit);
    },
    length: known?.length === undefined || known.length === null ? undefined : length(known.length, unit),
  };
}
