import { useEffect, useMemo, useState } from "react";
import type { SectionSummary, Step } from "../api/types";
import { useBuilt } from "../floor/context";
import { cross, dot, sectionSummary } from "../model/outline";
import { bodyGeometry } from "../scene/bodyGeometry";
import { planeCut } from "../scene/planeCut";
import type { XY } from "./drawing";

/** What lies under the drawing: other sections seen square on, where bodies cross this plane, and places of both that can be met. */
export interface Underlay {
  ghosts: { id: string; path: string }[];
  cut: string;
  spots: XY[];
}

type Triple = readonly [number, number, number];

/** From space into the drawing of a section: onto its plane, and back from where the drawing was moved and turned. */
function intoDrawing(summary: SectionSummary, section: Step): (p: Triple) => XY {
  const { origin, x, y } = summary;
  const [ax, ay] = (section.params["at"] as [unknown, unknown] | undefined) ?? [0, 0];
  const at: XY = [typeof ax === "number" ? ax : 0, typeof ay === "number" ? ay : 0];
  const turn = typeof section.params["turn"] === "number" ? (section.params["turn"] * Math.PI) / 180 : 0;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return (p) => {
    const off: Triple = [p[0] - origin[0], p[1] - origin[1], p[2] - origin[2]];
    const [u, v] = [dot(off, x) - at[0], dot(off, y) - at[1]];
    return [c * u + s * v, -s * u + c * v];
  };
}

export function useUnderlay(section: Step): Underlay {
  const steps = useBuilt((built) => built.steps);
  const own = sectionSummary(steps[section.id]);
  const [cut, setCut] = useState<{ path: string; key: string }>({ path: "", key: "" });

  const frame = own ? JSON.stringify([own.origin, own.x, own.y]) : "";
  const ghosts = useMemo(() => {
    if (!own) return [];
    const into = intoDrawing(own, section);
    return Object.values(steps).flatMap((status) => {
      const other = sectionSummary(status);
      if (!other || status.id === section.id || other.outline.length < 2) return [];
      const points = other.outline.map(([a, b]) =>
        into(
          [0, 1, 2].map(
            (i) => (other.origin[i] ?? 0) + a * (other.x[i] ?? 0) + b * (other.y[i] ?? 0),
          ) as unknown as Triple,
        ),
      );
      return [
        { id: status.id, path: `M${points.map((p) => p.join(" ")).join("L")}${other.closed ? "Z" : ""}`, points },
      ];
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters
  }, [steps, frame, section]);

  const mesh = Object.values(steps).find((status) => status.summary?.result === "body")?.mesh ?? null;
  useEffect(() => {
    let wanted = true;
    const key = `${mesh ?? ""} ${frame}`;
    if (!mesh || !own) return;
    void bodyGeometry(mesh)
      .then(({ surface }) => {
        if (!wanted) return;
        const axis = cross(own.x, own.y);
        const segments = planeCut(surface, axis, dot(own.origin, axis) + 1e-4);
        const into = intoDrawing(own, section);
        const parts = [];
        for (let i = 0; i + 5 < segments.length; i += 6) {
          const a = into([segments[i] ?? 0, segments[i + 1] ?? 0, segments[i + 2] ?? 0]);
          const b = into([segments[i + 3] ?? 0, segments[i + 4] ?? 0, segments[i + 5] ?? 0]);
          parts.push(`M${a.join(" ")}L${b.join(" ")}`);
        }
        setCut({ path: parts.join(""), key });
      })
      .catch(() => undefined);
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters
  }, [mesh, frame, section]);

  return useMemo(
    () => ({
      ghosts,
      cut: cut.path,
      // every eighth place of an outline: enough to meet, not so many that nothing else can be met
      spots: ghosts.flatMap((g) => g.points.filter((_, i) => i % 8 === 0)),
    }),
    [ghosts, cut],
  );
}
