import { useEffect, useRef, useState, type PointerEvent } from "react";
import type { Step } from "../../api/types";
import { useDocument, useFloor, useHead, useStatus } from "../../floor/context";
import { stationOf } from "../../model/outline";
import { picturesOn, pictureSummary, pictureUrl, ratioOf } from "./pictures";
import { placedOn } from "../../board/placed";

/** The reference pictures on the station that is drawn on, under everything else. scale: mm for each pixel. */
export function PicturesUnder({ section, scale, still }: { section: Step; scale: number; still: boolean }) {
  const pictures = picturesOn(useDocument(), stationOf(section));
  return pictures.map((step) => <PictureUnder key={step.id} {...{ step, section, scale, still }} />);
}

function PictureUnder({ step, section, scale, still }: { step: Step; section: Step; scale: number; still: boolean }) {
  const { live, change } = useFloor();
  const { design } = useHead();
  const summary = pictureSummary(useStatus(step.id));
  const key = summary?.picture;
  const [ratio, setRatio] = useState<number | null>(null);
  const held = useRef<{ x: number; y: number; at: readonly [number, number]; to: readonly [number, number] } | null>(
    null,
  );
  useEffect(() => {
    let wanted = true;
    if (key)
      void ratioOf(key)
        .then((found) => wanted && setRatio(found))
        .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [key]);
  if (!summary || !key || ratio === null || step.skip) return null;
  const { into, turn } = placedOn(section);
  const [x, y] = into(summary.at);
  const degrees = (summary.turn * 180) / Math.PI - turn;
  const [width, height] = [summary.width, summary.width * ratio];
  const put = (at: readonly [number, number]) => [
    { do: "set-param" as const, step: step.id, path: ["at"], value: [at[0], at[1]] },
  ];
  const fixed = still || summary.locked;
  return (
    <g transform={`translate(${x} ${y}) rotate(${degrees}) scale(1 -1)`}>
      <image
        href={pictureUrl(key)}
        x={-width / 2}
        y={-height / 2}
        width={width}
        height={height}
        opacity={1 - summary.fade}
        preserveAspectRatio="none"
        data-picture={step.id}
        style={{ cursor: fixed ? undefined : "move", pointerEvents: fixed ? "none" : "auto" }}
        onPointerDown={(event: PointerEvent) => {
          event.stopPropagation();
          (event.target as Element).setPointerCapture(event.pointerId);
          held.current = { x: event.clientX, y: event.clientY, at: summary.at, to: summary.at };
        }}
        onPointerMove={(event: PointerEvent) => {
          const from = held.current;
          if (!from) return;
          event.stopPropagation();
          const c = Math.cos((turn * Math.PI) / 180);
          const s = Math.sin((turn * Math.PI) / 180);
          const [dx, dy] = [(event.clientX - from.x) * scale, (from.y - event.clientY) * scale];
          from.to = [tidy(from.at[0] + c * dx - s * dy), tidy(from.at[1] + s * dx + c * dy)];
          live.preview(design, put(from.to));
        }}
        onPointerUp={(event: PointerEvent) => {
          const from = held.current;
          held.current = null;
          event.stopPropagation();
          if (from && from.to !== from.at) void change(put(from.to));
        }}
      />
    </g>
  );
}

const tidy = (v: number): number => Math.round(v * 100) / 100;
