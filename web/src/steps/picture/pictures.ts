import { stationOf } from "../../model/outline";
import { gives } from "../registry";
import type { DesignDocument, PictureSummary, Step, StepStatus } from "../../api/types";

export function pictureSummary(status: StepStatus | undefined): PictureSummary | null {
  return status?.summary?.result === "picture" ? status.summary : null;
}

export const pictureUrl = (key: string): string => `/api/pictures/${key}`;

/** Reference pictures that lie on a station. */
export const picturesOn = ({ steps }: DesignDocument, station: string): Step[] =>
  steps.filter((step) => gives(step, "picture") && stationOf(step) === station);

const ratios = new Map<string, Promise<number>>();

/** Height against width of a picture. */
export function ratioOf(key: string): Promise<number> {
  const known = ratios.get(key);
  if (known) return known;
  const asked = new Promise<number>((done, fail) => {
    const image = new Image();
    image.onload = () => done(image.naturalHeight / (image.naturalWidth || 1));
    image.onerror = () => fail(new Error("the picture is not on this machine"));
    image.src = pictureUrl(key);
  });
  ratios.set(key, asked);
  asked.catch(() => ratios.delete(key));
  return asked;
}
