import { useCallback, type RefObject } from "react";
import type { SectionSummary, Step } from "../../api/types";
import { useFloor, useHead } from "../../floor/context";
import { inSpace } from "../../model/lines";
import { cross, dot, sectionSummary } from "../../model/outline";
import { inPlane } from "../../scene/alongWay";
import type { Grip, Pull } from "../../scene/grips";
import { usePulled } from "../../scene/usePulled";
import type { Viewport } from "../../scene/viewport";

type Flat = readonly [number, number];
type What = "copy at" | "copy turn" | "copy scale";

/** How a linked copy lies on its station, and how far its original reaches from the place that it is scaled and turned about, along x and along y. */
interface Lying {
  about: Flat;
  at: Flat;
  turn: number;
  scale: number;
  reach: Flat;
}

const SMALLEST = 0.01;

const rounded = (value: number, parts: number): number => Math.round(value * parts) / parts;

/** Grips of the selected linked copy: the place that it turns about, a rod to turn it by and one to scale it by. What they come to are its numbers. */
export function useCopyPull(viewport: RefObject<Viewport | null>) {
  const { live, place } = useFloor();
  const { design } = useHead();
  const held = usePulled<Lying & { what: What }>();

  const selected = useCallback(() => {
    const step = design.document.steps.find((s) => s.id === place.getState().selected);
    const status = live.built.getState().steps[step?.id ?? ""];
    const summary = sectionSummary(status);
    const lying = step && summary && lyingOf(step, status?.values ?? {}, summary);
    return lying ? { step, summary, lying } : null;
  }, [design, live, place]);

  const grips = useCallback((): Grip[] => {
    const found = selected();
    if (!found) return [];
    const { step, summary, lying } = found;
    // what is pulled is where the hand has it
    const { about, at, turn, scale, reach } = held.taken() ?? lying;
    const middle: Flat = [about[0] + at[0], about[1] + at[1]];
    const onward = (degrees: number, far: number): Flat => {
      const angle = (degrees * Math.PI) / 180;
      return [middle[0] + far * Math.cos(angle), middle[1] + far * Math.sin(angle)];
    };
    const from = inSpace(summary, middle);
    const rod = (id: What, label: string, to: Flat): Grip => ({
      id,
      label: `${label} of ${step.name}`,
      at: inSpace(summary, to),
      from,
      kind: "handle",
    });
    return [
      { id: "copy at", label: `Place of ${step.name}`, at: from, kind: "point" },
      rod("copy turn", "Turn", onward(turn, reach[0] * scale)),
      rod("copy scale", "Scale", onward(turn + 90, reach[1] * scale)),
    ];
  }, [selected, held]);

  const pull: Pull = (id, phase, pulled) => {
    if (phase === "end") {
      held.letGo();
      return;
    }
    const found = selected();
    if (!found || !pulled || !viewport.current || phase === "pick") return;
    const eye = viewport.current.towardsEye([...pulled.there]);
    const { step, summary, lying } = found;
    if (phase === "start") held.take({ ...lying, what: id as What });
    const taken = held.taken();
    if (taken?.what !== id) return;
    const there = inPlane(summary.origin, cross(summary.x, summary.y), pulled.there, eye);
    if (!there) return;
    const off = there.map((v, i) => v - (summary.origin[i] ?? 0)) as [number, number, number];
    const [x, y] = [dot(off, summary.x) - taken.about[0], dot(off, summary.y) - taken.about[1]];
    const [dx, dy] = [x - taken.at[0], y - taken.at[1]];
    const set = (path: string[], value: unknown) => held.follow([{ do: "set-param", step: step.id, path, value }]);
    if (taken.what === "copy at") {
      taken.at = [rounded(x, 10), rounded(y, 10)];
      set(["at"], taken.at);
    } else if (taken.what === "copy turn") {
      taken.turn = rounded((Math.atan2(dy, dx) * 180) / Math.PI, 1);
      set(["turn"], taken.turn);
    } else {
      const across = ((taken.turn + 90) * Math.PI) / 180;
      const far = dx * Math.cos(across) + dy * Math.sin(across);
      taken.scale = Math.max(rounded(far / taken.reach[1], 100), SMALLEST);
      set(["shape", "scale"], taken.scale);
    }
  };

  return { grips, pull };
}

/** What lies between rails has its place from them. */
function lyingOf(step: Step, values: Record<string, number>, { outline }: SectionSummary): Lying | null {
  const { shape, at, turn } = step.params as {
    shape?: { type?: string; rails?: unknown[]; about?: unknown[]; scale?: unknown };
    at?: unknown[];
    turn?: unknown;
  };
  if (shape?.type !== "copied" || shape.rails?.length || outline.length < 2) return null;
  const number = (value: unknown, path: string, otherwise: number): number =>
    typeof value === "number" ? value : (values[path] ?? otherwise);
  const flat = (value: unknown[] | undefined, path: string): Flat => [
    number(value?.[0], `${path}.0`, 0),
    number(value?.[1], `${path}.1`, 0),
  ];
  const [about, moved] = [flat(shape.about, "shape.about"), flat(at, "at")];
  const scale = number(shape.scale, "shape.scale", 1);
  const angle = number(turn, "turn", 0);
  const [c, d] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const off = outline.map(([x, y]): Flat => [x - about[0] - moved[0], y - about[1] - moved[1]]);
  const far = (way: Flat) => Math.max(...off.map(([x, y]) => Math.abs(x * way[0] + y * way[1]))) / scale;
  const [across, up] = [far([c, d]), far([-d, c])];
  // of what has no width, or no depth, a rod needs some length
  return { about, at: moved, turn: angle, scale, reach: [Math.max(across, up / 4), Math.max(up, across / 4)] };
}
