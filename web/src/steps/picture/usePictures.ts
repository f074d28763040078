import { useEffect, useState } from "react";
import { useBuilt, useOutline } from "../../floor/context";
import { pictureSummary, pictureUrl, ratioOf } from "./pictures";
import type { StagedPicture } from "../../scene/picturePlanes";

/** Reference pictures as they stand in space. */
export function usePictures(): StagedPicture[] {
  const steps = useBuilt((built) => built.steps);
  const { pictures } = useOutline();
  const [ratios, setRatios] = useState<Record<string, number>>({});
  const shown = pictures
    .flatMap((step) => (step.skip ? [] : [pictureSummary(steps[step.id])]))
    .filter((s) => s !== null);
  const missing = shown.map((s) => s.picture).find((key) => ratios[key] === undefined);
  useEffect(() => {
    if (missing)
      void ratioOf(missing)
        .then((ratio) => setRatios((known) => ({ ...known, [missing]: ratio })))
        .catch(() => setRatios((known) => ({ ...known, [missing]: 0 })));
  }, [missing]);
  return shown.flatMap(({ picture, origin, x, y, at, width, turn, fade }) => {
    const ratio = ratios[picture];
    if (!ratio) return [];
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const along = (a: number, b: number): [number, number, number] => [
      a * x[0] + b * y[0],
      a * x[1] + b * y[1],
      a * x[2] + b * y[2],
    ];
    const off = along(at[0], at[1]);
    const half = width / 2;
    return [
      {
        url: pictureUrl(picture),
        middle: [origin[0] + off[0], origin[1] + off[1], origin[2] + off[2]],
        right: along(half * c, half * s),
        up: along(-half * ratio * s, half * ratio * c),
        opacity: 1 - fade,
      },
    ];
  });
}
