import { memo, useEffect, useRef } from "react";
import { useQuery } from "@tanstack/react-query";
import { api } from "../api/client";
import type { Built } from "../api/built";
import { queries } from "../api/queries";
import type { DesignDocument, Material, Step } from "../api/types";
import { skinFindings, useBuilt, useDocument, useFloor, useOutline, usePlace } from "../floor/context";
import { along } from "../model/pulls";
import { millimetres } from "../model/units";
import { countedAt, cutThere } from "../model/counted";
import { bareStand, cross, frameOf, sectionSummary, type Stand } from "../model/outline";
import { finishOf, lookOf } from "../model/finish";
import { measureInWords, measureOf } from "../model/measures";
import { useTaking } from "../floor/useGiving";
import { useStationDrag } from "../run/useStationDrag";
import { bodyGeometry } from "./bodyGeometry";
import { isStale } from "../model/stale";
import { useAnswer, usePickingEnds } from "../picking/usePicking";
import { useActiveBody } from "../run/useActiveBody";
import { gives } from "../steps/registry";
import { railSummary } from "../steps/rail/rails";
import type { Pull } from "./grips";
import "./scene.css";
import { usePictures } from "../steps/picture/usePictures";
import { useHandles } from "../steps/useHandles";
import { useCombs } from "./useCombs";
import { usePicked } from "./usePicked";
import type { StagedBody, StagedSection } from "./stage";
import type { Paint } from "./skins";
import type { StagedPicture } from "./picturePlanes";
import type { StageListeners } from "./listeners";
import type { Viewport } from "./viewport";

interface SceneBody extends Paint {
  id: string;
  mesh: string;
}
/** Until they are known. */
const NO_MATERIALS: Material[] = [];

/** The scene: keeps a viewport and tells it what to show. Bodies go to it straight from the live channel. */
export const SceneView = memo(function SceneView({ onReady }: { onReady: (viewport: Viewport | null) => void }) {
  const { id, place, live, scene } = useFloor();
  const compared = usePlace((p) => p.compared);
  const document = useDocument();
  const { data: materials = NO_MATERIALS } = useQuery(queries.materials());
  const outline = useOutline();
  const steps = useBuilt((built) => built.steps);
  const solids = useBuilt((built) => built.solids);
  const holder = useRef<HTMLDivElement>(null);
  const viewport = useRef<Viewport | null>(null);
  const sliding = useRef<StageListeners["slide"]>(() => undefined);
  const { start, move, release } = useStationDrag();
  const handles = useHandles(viewport);
  const { grips, lines } = handles;
  const pulling = useRef<Pull>(() => undefined);
  const answer = useAnswer();
  usePickingEnds();
  const answering = useRef(answer);
  const active = useActiveBody();
  /** The step whose Run is shown, by the body that it went into. */
  const runs = useRef(new Map<string, string>());

  useEffect(() => {
    sliding.current = (section, phase, amount, fine) => {
      const bare = outline.bare.map((step) => bareStand(step, steps));
      const stand = [...outline.groups.flatMap((group) => group.stands), ...outline.loose, ...bare].find(
        (s) => s.section === section,
      );
      if (phase === "start" && stand) start(stand, amount * Math.sign(stand.rate || 1));
      else if (phase === "move") move(amount, fine);
      else if (phase === "end") release();
    };
    pulling.current = handles.pull;
    answering.current = answer;
    runs.current = new Map(active ? [[active.group.body.id, active.body.id]] : []);
  });

  useEffect(() => {
    if (!holder.current) return;
    const made = scene.enter(
      holder.current,
      {
        pick: (id) => place.setState({ selected: id }),
        hover: (id) => place.setState({ hovered: id }),
        viewed: (view) => place.setState({ view }),
        slide: (section, phase, amount, fine) => sliding.current(section, phase, amount, fine),
        pull: (...pulled) => pulling.current(...pulled),
        answer: (pointed) => void answering.current(pointed),
        candidate: (names) => place.setState({ litNames: names }),
        scaled: (scale) => place.getState().scale !== scale && place.setState({ scale }),
        point: (id, at, told) => {
          const summary = id === null ? null : live.built.getState().steps[id]?.summary;
          const active = id ? (runs.current.get(id) ?? id) : null;
          const along = active ? live.built.getState().steps[active]?.summary : summary;
          const pointed = active && along?.result === "body" ? { body: active, at: countedAt(along, at) } : null;
          if (pointed || place.getState().pointed) place.setState({ pointed, told });
        },
      },
      place.getState().view,
    );
    viewport.current = made;
    const apply = () => {
      const { selected, hovered, lit } = place.getState();
      made.setSelected(selected, hovered);
      made.setLit(lit);
      made.setLight(place.getState().litNames);
    };
    const point = () => {
      const { pointed } = place.getState();
      const summary = pointed ? live.built.getState().steps[pointed.body]?.summary : null;
      // a step that made part of a body is seen on that body
      const staged = pointed && ([...runs.current].find(([, maker]) => maker === pointed.body)?.[0] ?? pointed.body);
      made.setGuide(
        pointed && staged && summary?.result === "body" ? { body: staged, ...cutThere(summary, pointed.at) } : null,
      );
    };
    made.setPull(along(place.getState().pull));
    made.setMode(place.getState().mode);
    made.setCut(place.getState().cut);
    apply();
    const stop = place.subscribe((now, before) => {
      if (now.mode !== before.mode) made.setMode(now.mode);
      if (now.pull !== before.pull) made.setPull(along(now.pull));
      if (now.cut !== before.cut) made.setCut(now.cut);
      if (now.pointed !== before.pointed) point();
      if (now.picking !== before.picking) {
        made.pickOnly(now.picking?.what ?? null);
        if (!now.picking) place.setState({ litNames: [] });
      }
      if (["lit", "litNames", "selected", "hovered"].some((name) => now[name as "lit"] !== before[name as "lit"]))
        apply();
    });
    onReady(made);
    return () => {
      stop();
      onReady(null);
      viewport.current = null;
      made.leave();
    };
  }, [place, live, scene, onReady]);

  const selected = usePlace((p) => p.selected);
  const unit = document.unit;
  const before = usePlace((p) => p.before);
  const hidden = usePlace((p) => p.hidden);
  useEffect(() => {
    const rails = outline.rails.flatMap((step) => {
      const summary = railSummary(steps[step.id]);
      // on other copies too, where it is meant on all of them
      return summary
        ? [summary.points, ...summary.elsewhere].map((line) => ({ id: step.id, line: new Float32Array(line.flat()) }))
        : [];
    });
    const was = before.map((line, i) => ({ id: `before-${i}`, line: new Float32Array(line.flat()), mute: true }));
    const told = outline.measures.flatMap((step) => {
      const measure = measureOf(steps[step.id]);
      return measure ? [{ step, measure }] : [];
    });
    const measured = told.flatMap(({ step, measure }) =>
      (measure.lines ?? []).map((line, i) => ({
        id: `measured-${step.id}-${i}`,
        line: new Float32Array(line.flat()),
        mute: true,
      })),
    );
    viewport.current?.setRails([...rails, ...lines(), ...was, ...measured]);
    viewport.current?.setNotes(
      told.map(({ step, measure }) => ({
        id: step.id,
        text: measureInWords(measure, unit),
        at: measure.at,
        state: measure.verdict === "none" ? "none" : measure.verdict === "hit" ? "hit" : "missed",
      })),
      selected,
    );
  }, [outline, steps, lines, selected, before, unit]);
  usePicked(viewport);
  useCombs(viewport, active?.body.id ?? "");
  useEffect(() => viewport.current?.setUnit(millimetres(unit)), [unit]);
  const pictures = usePictures();
  const laid = JSON.stringify(pictures);
  useEffect(() => viewport.current?.setPictures(JSON.parse(laid) as StagedPicture[]), [laid]);
  useEffect(() => {
    viewport.current?.setGrips(grips());
  }, [grips, steps, selected]);

  useEffect(() => {
    const sections = [
      ...outline.groups
        .filter(({ body }) => !hidden.includes(body.id))
        .flatMap((group) => group.stands)
        .map((stand) => staged(stand, steps, false)),
      ...outline.loose.map((stand) => staged(stand, steps, true)),
    ];
    viewport.current?.setSections([...sections, ...planes(outline.bare, sections, steps)]);
    viewport.current?.setMarks(
      Object.values(steps)
        .flatMap((status) => [...status.findings, ...skinFindings({ steps, solids }, status.id)])
        .filter((finding) => finding.severity !== "note")
        .flatMap((finding) => finding.where?.points ?? []),
    );
  }, [outline, steps, solids, hidden]);

  useEffect(() => {
    let wanted = true;
    const show = async () => {
      const old = compared ? await api.bodiesAt(id, compared.revision) : [];
      const ready = await Promise.all(old.map((body) => bodyGeometry(body.mesh)));
      if (wanted) viewport.current?.setGhosts(ready);
    };
    void show().catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [compared, id]);

  useEffect(() => {
    let asked = "";
    const gone = new Set(
      outline.groups.flatMap(({ body, makers }) => (hidden.includes(body.id) ? makers.map(({ step }) => step.id) : [])),
    );
    const seen = (built: Built) => bodiesOf(document, built, materials).filter(({ id }) => !gone.has(id));
    const show = async (bodies: SceneBody[]) => {
      const key = JSON.stringify(bodies);
      if (key === asked) return;
      asked = key;
      const coming = bodies.map(async ({ mesh, ...body }): Promise<StagedBody> => ({
        ...body,
        geometry: await bodyGeometry(mesh),
      }));
      const ready = await Promise.all(coming).catch((error: unknown) => {
        // it is asked for again with whatever is told next
        if (asked === key) asked = "";
        throw error;
      });
      // an answer that comes after a newer one is of no use any more
      if (asked !== key || !viewport.current) return;
      viewport.current.setBodies(ready);
      viewport.current.element.dataset["meshes"] = meshesOf(bodies);
    };
    let settled = "";
    const rest = () => {
      const state = live.built.getState();
      const { complete, shown } = state;
      // what was asked for may still be on its way
      if (viewport.current?.element.dataset["meshes"] !== meshesOf(seen(state))) return;
      if (complete) viewport.current?.keepView();
      // never while something is dragged
      if (shown.endsWith("~")) return;
      // bodies that only the kernel can make come later than the others
      const there = [shown, ...seen(state).map(({ id }) => id)].join(" ");
      if (there === settled) return;
      settled = there;
      viewport.current?.settle();
    };
    const sync = () =>
      void show(seen(live.built.getState()))
        .then(rest)
        .catch(() => undefined);
    sync();
    const stop = live.built.subscribe(sync);
    return () => {
      stop();
      // what is still on its way would come after what is shown from now on
      asked = "nothing any more";
    };
  }, [document, live, outline, hidden, materials]);

  // a step that is dragged onto a body is given to what made that
  const taking = useTaking((event) => {
    const body = viewport.current?.bodyAt(event) ?? null;
    const group = outline.groups.find((group) => group.body.id === body);
    return group ? group.makers.map(({ step }) => step.id) : [];
  });
  return <div ref={holder} className="scene-place" {...taking} />;
});

const meshesOf = (bodies: readonly SceneBody[]): string => bodies.map(({ mesh }) => mesh).join(" ");

/** The bodies that stand, as the server tells; what failed is shown as it was where nothing else stands in its place. */
function bodiesOf(document: DesignDocument, built: Built, materials: readonly Material[]): SceneBody[] {
  return document.steps.flatMap((step): SceneBody[] => {
    const status = built.steps[step.id];
    if (gives(step, "reference"))
      return status?.mesh && !step.skip
        ? [{ id: step.id, colour: null, gloss: 0.1, mesh: status.mesh, stale: false, aside: true }]
        : [];
    if (!gives(step, "body")) return [];
    const { colour, gloss } = lookOf(finishOf(step, document.steps, built.steps), materials);
    const look = { id: step.id, colour, gloss };
    if (built.standing && !built.standing.includes(step.id))
      return isStale(step, status) && status?.last_good ? [{ ...look, mesh: status.last_good, stale: true }] : [];
    const mesh = built.shapes[step.id] ?? status?.mesh;
    return mesh ? [{ ...look, mesh, stale: false }] : [];
  });
}

type Outline = readonly (readonly [number, number])[];
const NOWHERE: readonly [number, number, number] = [0, 0, 0];

function staged(stand: Stand, steps: Built["steps"], loose: boolean): StagedSection {
  const summary = sectionSummary(steps[stand.section]);
  const { origin, x, y } = summary ?? { origin: NOWHERE, x: NOWHERE, y: NOWHERE };
  const line = (points: Outline, closed: boolean) =>
    Float32Array.from(
      (closed && points[0] ? [...points, points[0]] : points).flatMap(([a, b]) =>
        origin.map((o, i) => o + a * (x[i] ?? 0) + b * (y[i] ?? 0)),
      ),
    );
  return {
    id: stand.section,
    mark: String(stand.number),
    label: `Section ${stand.number}, ${stand.name}`,
    loose,
    outline: line(summary?.outline ?? [], summary?.closed ?? false),
    beside: (summary?.beside ?? []).map((points) => line(points, true)),
    axis: cross(x, y),
    origin,
  };
}

const SMALLEST_PLANE = 20;

/** Stations that nothing stands on, as squares a little larger than the sections there are. */
function planes(bare: readonly Step[], sections: readonly StagedSection[], steps: Built["steps"]): StagedSection[] {
  const reach = sections.map(({ outline, origin }) => {
    let far = 0;
    for (let i = 0; i < outline.length; i++) far = Math.max(far, Math.abs((outline[i] ?? 0) - (origin[i % 3] ?? 0)));
    return far;
  });
  const half = 1.15 * Math.max(SMALLEST_PLANE, ...reach);
  return bare.flatMap((step) => {
    const frame = frameOf(steps[step.id]);
    if (!frame) return [];
    const { origin, x, y } = frame;
    const ring = [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
      [-1, -1],
    ].flatMap(([a = 0, b = 0]) => origin.map((o, i) => o + half * (a * (x[i] ?? 0) + b * (y[i] ?? 0))));
    const label = `Station ${step.name}`;
    return [
      {
        id: step.id,
        mark: "◇",
        label,
        loose: true,
        outline: new Float32Array(ring),
        beside: [],
        axis: cross(x, y),
        origin,
      },
    ];
  });
}
