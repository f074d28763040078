import { useCallback, type RefObject } from "react";
import type { Grip, Pull } from "../scene/grips";
import type { StagedRail } from "../scene/stage";
import type { Viewport } from "../scene/viewport";
import { usePairPull } from "./between/usePairPull";
import { useBridgePull } from "./bridge/useBridgePull";
import { useSizePull } from "./fillet/useSizePull";
import { useEndPull } from "./loft/useEndPull";
import { useMarkPull } from "./loft/useMarkPull";
import { useRailPull } from "./rail/useRailPull";
import { useCopyPull } from "./section/useCopyPull";

/** All that can be pulled about in the scene for the selected step, and the lines that belong to it. */
export function useHandles(viewport: RefObject<Viewport | null>) {
  const { grips: rails, pull: pullRail } = useRailPull(viewport);
  const { grips: marks, lines: ties, pull: pullMark } = useMarkPull(viewport);
  const { grips: pairs, lines: rungs, pull: pullPair } = usePairPull(viewport);
  const { grips: ends, pull: pullEnd } = useEndPull(viewport);
  const { grips: bridges, pull: pullBridge } = useBridgePull(viewport);
  const { grips: sizes, pull: pullSize } = useSizePull(viewport);
  const { grips: copies, pull: pullCopy } = useCopyPull(viewport);
  const grips = useCallback(
    (): Grip[] => [rails, marks, pairs, ends, bridges, sizes, copies].flatMap((each) => each()),
    [rails, marks, pairs, ends, bridges, sizes, copies],
  );
  const lines = useCallback((): StagedRail[] => [...ties(), ...rungs()], [ties, rungs]);
  /** What is pulled is told by how its name begins; points of rails have no word before theirs. */
  const pull: Pull = (id, ...rest) => {
    const ways: [RegExp, Pull][] = [
      [/^(start|tie)/, pullMark],
      [/^pair/, pullPair],
      [/^full/, pullEnd],
      [/^bridge/, pullBridge],
      [/^size/, pullSize],
      [/^copy/, pullCopy],
    ];
    (ways.find(([begins]) => begins.test(id))?.[1] ?? pullRail)(id, ...rest);
  };
  return { grips, lines, pull };
}
