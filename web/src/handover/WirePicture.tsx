import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import { colours } from "../theme/colours";
import { looksHere, seen, type Wire } from "./wire";

const SIZE = { width: 360, height: 240 };

/** The polygons that a file holds, as lines: those that look away are pale. */
export function WirePicture({ wire }: { wire: Wire }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const pen = canvas.current?.getContext("2d");
    if (!pen) return;
    const sharp = window.devicePixelRatio;
    pen.setTransform(sharp, 0, 0, sharp, 0, 0);
    pen.clearRect(0, 0, SIZE.width, SIZE.height);
    const flat = seen(wire, SIZE.width, SIZE.height, 12);
    for (const [colour, here] of [
      [colours.hairline, false],
      [colours.ink, true],
    ] as const) {
      pen.beginPath();
      for (const polygon of wire.polygons) {
        if (looksHere(polygon, flat) !== here) continue;
        polygon.forEach((n, k) => pen[k ? "lineTo" : "moveTo"](flat[2 * n] ?? 0, flat[2 * n + 1] ?? 0));
        pen.closePath();
      }
      pen.strokeStyle = colour;
      pen.lineWidth = 0.7;
      pen.stroke();
    }
  }, [wire]);
  const sharp = window.devicePixelRatio;
  return (
    <Box
      component="canvas"
      ref={canvas}
      width={SIZE.width * sharp}
      height={SIZE.height * sharp}
      role="img"
      aria-label="The polygons that the file will hold"
      sx={{ width: "100%", aspectRatio: `${SIZE.width} / ${SIZE.height}`, bgcolor: colours.paper, borderRadius: 1 }}
    />
  );
}
