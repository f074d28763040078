import { useEffect, useMemo, useState } from "react";
import type { StationSummary, Step } from "../api/types";
import { useBuilt, useDocument, useOutline } from "../floor/context";
import { cross, dot, makerOf, sectionSummary, sheetOf } from "../model/outline";
import { bodyGeometry, RING, UNDER, type NamedLine } from "../scene/bodyGeometry";
import { railSummary } from "../steps/rail/rails";
import { broughtBefore } from "../model/order";
import { planeCut, seenRound, turnsAway } from "../scene/planeCut";
import type { XY } from "./drawing";
import { intoDrawing, intoSpace } from "./placed";
import type { Passed } from "./snap";

/** What lies under the drawing: other sections seen square on, where bodies cross this plane, and places of both that can be met. */
export interface Underlay {
  ghosts: { id: string; path: string; points: XY[] }[];
  cut: string;
  /** Edges of bodies made before this section, and outlines of them, which can be traced. */
  edges: { step: string; part: string; path: string }[];
  /** Where a place on the sheet lies in the box of a body, by which of several outlines the one is known that was picked. */
  within: (body: string, at: XY) => Triple | null;
  spots: Met[];
  /** Lines that can be met all along. */
  lines: { way: string; points: XY[] }[];
  /** Where rails pass through this plane; free: those that a point can be held to. */
  marks: (Passed & { name: string; free: boolean })[];
  /** The outline of bodies seen square on. */
  round: string;
  /** Bodies are being cut for the first time. */
  waits: boolean;
}

/** A place that can be met, and what it is, in a word. */
interface Met {
  at: XY;
  way: string;
  passed?: Passed;
}

interface Cut {
  path: string;
  round: string;
  corners: XY[];
  edges: Underlay["edges"];
  outlines: Underlay["edges"];
}
const NO_CUT: Cut = { path: "", round: "", corners: [], edges: [], outlines: [] };
const FEW = 8;
/** Parts of a body as a whole that can be traced, and what they are called. */
export const OUTLINES: Readonly<Record<string, string>> = {
  "outline:seen": "outline seen square on",
  "outline:cut": "where this plane cuts it",
};

const sharp = (lines: NamedLine[]): Float32Array[] =>
  lines.filter(({ name }) => !name.startsWith(RING)).map(({ segments }) => segments);

const drawn = ({ name }: NamedLine): boolean => !name.startsWith(UNDER);

/** Some of the points of flat pairs, its first and its last among them. */
function everyFew(flat: Float32Array): Triple[] {
  const found: Triple[] = [];
  for (let i = 0; i + 2 < flat.length; i += 6 * FEW) found.push([flat[i] ?? 0, flat[i + 1] ?? 0, flat[i + 2] ?? 0]);
  if (flat.length >= 3) found.push([flat.at(-3) ?? 0, flat.at(-2) ?? 0, flat.at(-1) ?? 0]);
  return found;
}

/** A place mirrored in a plane. */
function imageIn({ origin, x, y }: Pick<StationSummary, "origin" | "x" | "y">, at: Triple): Triple {
  const normal = cross(x, y);
  const off = 2 * (dot(at, normal) - dot(origin, normal));
  return at.map((value, i) => value - off * (normal[i] ?? 0)) as unknown as Triple;
}

type Triple = readonly [number, number, number];

/** still: something is being dragged; bodies under the drawing are cut anew when it is let go. tracing: outlines can be picked. */
export function useUnderlay(section: Step, still: boolean, tracing: boolean): Underlay {
  const steps = useBuilt((built) => built.steps);
  const own = sheetOf(steps[section.id]);
  const [worked, setCut] = useState<Cut | null>(null);
  const cut = worked ?? NO_CUT;

  const { steps: order } = useDocument();
  const frame = own ? JSON.stringify([own.origin, own.x, own.y]) : "";
  const mirror = makerOf(useOutline(), section.id)?.maker.step.params["mirrored"] as
    { step: string } | null | undefined;
  const plane = steps[mirror?.step ?? ""]?.summary;
  const ghosts = useMemo(() => {
    if (!own) return [];
    const into = intoDrawing(own, section);
    return Object.values(steps).flatMap((status) => {
      const other = sectionSummary(status);
      const itself = status.id === section.id;
      if (!other || other.outline.length < 2 || (itself && plane?.result !== "station")) return [];
      const points = other.outline.map(([a, b]) => {
        const at = [0, 1, 2].map(
          (i) => (other.origin[i] ?? 0) + a * (other.x[i] ?? 0) + b * (other.y[i] ?? 0),
        ) as unknown as Triple;
        return into(itself && plane?.result === "station" ? imageIn(plane, at) : at);
      });
      const round = other.closed && points[0] ? [...points, points[0]] : points;
      return [{ id: status.id, path: `M${round.map((p) => p.join(" ")).join("L")}`, points: round }];
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters
  }, [steps, frame, section, plane]);

  const marks = useMemo(() => {
    if (!own) return [];
    const into = intoDrawing(own, section);
    const axis = cross(own.x, own.y);
    const level = dot(own.origin, axis);
    return order.flatMap(({ id, name }) => {
      const line = id === section.id ? [] : (railSummary(steps[id])?.points ?? []);
      // a rail that is made of this section can't lead it
      const free = line.length > 0 && broughtBefore(section.id, id, order) !== null;
      const heights = line.map((p) => dot(p, axis) - level);
      return line.slice(1).flatMap((b, i) => {
        const [a, from, to] = [line[i] ?? b, heights[i] ?? 0, heights[i + 1] ?? 0];
        // a rail that begins or ends on the plane passes it as well
        if ((from > 0 === to > 0 && from !== 0 && to !== 0) || from === to) return [];
        const part = from / (from - to);
        if (part < 0 || part > 1) return [];
        const there = a.map((v, k) => v + ((b[k] ?? 0) - v) * part) as unknown as Triple;
        return [{ id, name, free, at: into(there) }];
      });
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters
  }, [steps, order, frame, section]);
  const place = order.findIndex((step) => step.id === section.id);
  const bodies = order.flatMap((step, i) => {
    const status = steps[step.id];
    if (!status?.mesh || step.skip) return [];
    // what is only there to be looked at is drawn over, and never traced
    if (status.summary?.result === "reference")
      return [{ step: step.id, mesh: status.mesh, before: false, closed: false }];
    if (status.summary?.result !== "body") return [];
    return [{ step: step.id, mesh: status.mesh, before: i < place, closed: status.summary.closed ?? true }];
  });
  const mesh = bodies.map((body) => `${body.step} ${body.mesh} ${body.before}`).join("|");
  useEffect(() => {
    let wanted = true;
    if (still || !bodies.length || !own) return;
    const axis = cross(own.x, own.y);
    const into = intoDrawing(own, section);
    const pairs = (flat: Float32Array): string => {
      const parts = [];
      for (let i = 0; i + 5 < flat.length; i += 6) {
        const a = into([flat[i] ?? 0, flat[i + 1] ?? 0, flat[i + 2] ?? 0]);
        const b = into([flat[i + 3] ?? 0, flat[i + 4] ?? 0, flat[i + 5] ?? 0]);
        parts.push(`M${a.join(" ")}L${b.join(" ")}`);
      }
      return parts.join("");
    };
    void Promise.all(bodies.map((body) => bodyGeometry(body.mesh).then((geometry) => ({ ...body, geometry }))))
      .then((ready) => {
        if (!wanted) return;
        setCut({
          path: ready.map((b) => pairs(planeCut(b.geometry.surface, axis, dot(own.origin, axis) + 1e-4))).join(""),
          round: ready.map((b) => pairs(seenRound(b.geometry.surface, axis))).join(""),
          corners: ready
            .flatMap((b) => [seenRound(b.geometry.surface, axis), ...sharp(b.geometry.lines)])
            .flatMap((flat) => everyFew(flat).map(into)),
          edges: ready
            .filter((b) => b.before)
            .flatMap((b) =>
              b.geometry.lines.filter(drawn).map((l) => ({ step: b.step, part: l.name, path: pairs(l.segments) })),
            ),
          outlines: ready
            .filter((b) => tracing && b.before && b.closed)
            .flatMap(({ step, geometry: { surface } }) => [
              { step, part: "outline:seen", path: pairs(turnsAway(surface, axis)) },
              { step, part: "outline:cut", path: pairs(planeCut(surface, axis, dot(own.origin, axis) + 1e-4)) },
            ])
            .filter(({ path }) => path),
        });
      })
      .catch(() => {
        // they are there to draw by: without them one can draw all the same
        if (wanted) setCut((before) => before ?? NO_CUT);
      });
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters, the meshes for the bodies
  }, [mesh, frame, section, still, tracing]);

  const waits = worked === null && mesh !== "" && own !== null;
  return useMemo(() => {
    const called = (id: string) =>
      id === section.id ? "its image" : (order.find((step) => step.id === id)?.name ?? "");
    return {
      ghosts,
      cut: cut.path,
      // outlines lie under edges: an edge is what is meant where both are
      edges: [...cut.outlines, ...cut.edges],
      within: (body: string, at: XY) => {
        const summary = steps[body]?.summary;
        if (!own || summary?.result !== "body") return null;
        const { low, high } = summary;
        return intoSpace(
          own,
          section,
        )(at).map(
          (value, i) => (value - (low[i] ?? 0)) / Math.max((high[i] ?? 0) - (low[i] ?? 0), 1e-9),
        ) as unknown as Triple;
      },
      round: cut.round,
      waits,
      marks,
      spots: [
        ...marks.map(({ id, at, name, free }) => ({
          at,
          way: `${name} passes`,
          ...(free ? { passed: { id, at } } : {}),
        })),
        ...cut.corners.map((at) => ({ at, way: "underlay" })),
      ],
      lines: ghosts.map(({ id, points }) => ({ way: `on ${called(id)}`, points })),
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the frame stands for what of the own summary matters
  }, [ghosts, cut, waits, marks, order, section, steps, frame]);
}
