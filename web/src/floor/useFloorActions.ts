import { useCallback } from "react";
import { useNavigate } from "react-router";
import { isDrawnOn, outlineOf } from "../model/outline";
import { toggleHidden, type LaneName, type SceneMode } from "../model/place";
import { planeOf } from "../model/plane";
import type { Action } from "../reach/actions";
import { isSmall } from "../theme/useRoom";
import { VIEWS, type ViewKey } from "../scene/framing";
import type { Viewport } from "../scene/viewport";
import { useFloor, useHead, usePlace } from "./context";
import { designActions } from "./designActions";
import { choicesOf } from "./choices";
import { AXES, cutAlong, cutAt } from "./cutOpen";
import { removeStep } from "./removeStep";

const MEETS = [
  { type: "join", words: "joined to", keys: "s j" },
  { type: "cut", words: "cut from", keys: "s c" },
  { type: "overlap", words: "kept within", keys: "s o" },
] as const;

const MODES: { mode: SceneMode; title: string; keys: string; alike: string }[] = [
  { mode: "shade", title: "Shade", keys: "v s", alike: "surface" },
  { mode: "edges", title: "Edges", keys: "v e", alike: "lines" },
  { mode: "wire", title: "Wire", keys: "v w", alike: "flow lines net" },
  { mode: "stripes", title: "Stripes", keys: "v r", alike: "mirrored light bands reflection fair highlights" },
  { mode: "bends", title: "Bends", keys: "v b", alike: "curvature colours map radius hollow round fair check" },
  { mode: "lean", title: "Lean", keys: "v l", alike: "draft angle mould pull release undercut taper check map" },
  {
    mode: "thickness",
    title: "Thickness",
    keys: "v h",
    alike: "wall thick thin map even check sink",
  },
  { mode: "glass", title: "See through", keys: "v t", alike: "transparent glass inside" },
];
const LANES: { name: LaneName; keys: string }[] = [
  { name: "twist", keys: "r t" },
  { name: "scale", keys: "r s" },
  { name: "area", keys: "r a" },
  { name: "curvature", keys: "r c" },
  { name: "rails", keys: "r r" },
];

/** Everything that can be done on the floor, by name; put together when it is asked for, since a drag changes what fits many times a second. */
export function useFloorActions(viewport: Viewport | null): () => Action[] {
  const floor = useFloor();
  const head = useHead();
  const { design } = head;
  const navigate = useNavigate();
  // what buttons show of the list; the rest of it is looked at when it is asked for
  const mode = usePlace((p) => p.mode);
  const combs = usePlace((p) => p.combs);
  return useCallback(() => {
    const { place, change } = floor;
    const { steps, standing } = floor.live.built.getState();
    const { hidden, selected, cut, lanes } = place.getState();
    const { document } = design;
    const step = document.steps.find(({ id }) => id === selected);
    const plane = selected === null ? null : planeOf(steps[selected]);
    const outline = outlineOf(document, steps, standing);
    const choices = choicesOf(floor, document, outline, steps);
    const nothing = step ? undefined : "select a step first, in the Build or in the scene";
    const noPlane = plane ? undefined : "select a station or a section first";
    const byKind = choices.map(({ verb, title, act, disabled, keys, alike }): Action => ({
      name: `${verb}: ${title}`,
      run: () => void act(),
      why: disabled,
      ...(keys ? { keys } : {}),
      ...(alike ? { alike } : {}),
    }));
    return [
      ...designActions(floor, head, () => void navigate("/")),
      ...(Object.keys(VIEWS) as ViewKey[]).map((key) => ({
        name: `Look from: ${VIEWS[key].name}`,
        title: VIEWS[key].name,
        keys: key,
        run: () => viewport?.look(key),
      })),
      { name: "Fit everything into view", title: "Fit", keys: "0", alike: "zoom all", run: () => viewport?.fit() },
      {
        name: "Fit what is selected into view",
        keys: "9",
        alike: "zoom closer near",
        why: nothing,
        run: () => viewport?.near(),
      },
      {
        name: "Look from: square on",
        title: "Square on",
        keys: "5",
        alike: "normal plane station",
        why: noPlane,
        run: () => plane && viewport?.square(plane),
      },
      ...MODES.map(({ mode: wanted, title, keys, alike }) => ({
        name: `Drawn as: ${title.toLowerCase()}`,
        title,
        keys,
        alike,
        on: mode === wanted,
        run: () => place.setState({ mode: wanted }),
      })),
      ...outline.groups.map(({ body }) => ({
        name: `${hidden.includes(body.id) ? "Show" : "Hide"}: ${body.name}`,
        alike: "visible sight",
        run: () => toggleHidden(place, body.id),
      })),
      {
        name: "Show: all bodies",
        keys: "v a",
        alike: "visible unhide",
        why: hidden.length ? undefined : "nothing is out of sight",
        run: () => place.setState({ hidden: [] }),
      },
      ...AXES.map(({ title, axis }) => ({
        name: `Cut open: along ${title}`,
        keys: `c ${title}`,
        alike: "section view clip inside",
        run: () => viewport && place.setState({ cut: cutAlong(viewport, axis) }),
      })),
      {
        name: "Cut open: where the selected plane is",
        keys: "c s",
        alike: "section view clip inside",
        why: noPlane,
        run: () => plane && place.setState({ cut: cutAt(plane, viewport) }),
      },
      {
        name: "Cut open: close",
        keys: "c c",
        why: cut ? undefined : "nothing is cut open",
        run: () => place.setState({ cut: null }),
      },
      {
        name: "Combs: how much lines on the body bend",
        title: "Combs",
        keys: "v k",
        alike: "curvature teeth fair check",
        on: combs,
        run: () => place.setState({ combs: !place.getState().combs }),
      },
      {
        name: "Continuity: how the faces of the body meet",
        title: "Continuity",
        keys: "v c",
        alike: "check G1 G2 tangent curvature seams gap angle report",
        run: () => place.setState({ meeting: !place.getState().meeting }),
      },
      {
        name: "Run: fold away or unfold",
        keys: "r f",
        alike: "strip timeline hide",
        run: () => place.setState({ folded: !(place.getState().folded ?? isSmall()) }),
      },
      ...LANES.map(({ name, keys }) => ({
        name: `Lane: ${name}`,
        keys,
        on: lanes.includes(name),
        alike: "graph curve law",
        run: () => place.setState({ lanes: lanes.includes(name) ? lanes.filter((n) => n !== name) : [...lanes, name] }),
      })),
      {
        name: step && isDrawnOn(step) ? `Draw on: ${step.name}` : "Draw on the board",
        keys: "d d",
        alike: "edit sketch",
        why: step && isDrawnOn(step) ? undefined : "select a section first",
        run: () => step && place.setState({ board: step.id }),
      },
      {
        name: step ? `Remove: ${step.name}` : "Remove what is selected",
        keys: "Delete",
        alike: "delete take away",
        why: nothing,
        run: () => step && removeStep(floor, document, step, steps[step.id]?.changes ?? []),
      },
      {
        name: step ? `${step.skip ? "Build again" : "Skip"}: ${step.name}` : "Skip what is selected",
        alike: "suppress disable off",
        why: nothing,
        run: () => step && void change([{ do: "skip-step", step: step.id, skip: !step.skip }]),
      },
      {
        name: "Build up to what is selected",
        alike: "roll back history",
        why: nothing,
        run: () => step && void change([{ do: "build-up-to", step: step.id }]),
      },
      {
        name: "Build to the end",
        why: document.until === null || document.until === undefined ? "it is built to the end already" : undefined,
        run: () => void change([{ do: "build-up-to", step: null }]),
      },
      {
        name: "Select nothing",
        keys: "Escape",
        run: () => {
          // one thing at a time: first what waits to be picked, then what is selected
          if (place.getState().picking) place.setState({ picking: null });
          else place.setState({ selected: null });
        },
      },
      ...byKind,
      ...outline.groups.flatMap(({ body, row }) =>
        row
          ? [
              {
                name: `Draw into: ${body.name}`,
                run: () => place.setState({ into: { body: body.id } }),
              },
            ]
          : [],
      ),
      { name: "Draw into: a new body", keys: "d n", run: () => place.setState({ into: "apart" }) },
      { name: "Makes: a new body", keys: "s n", run: () => place.setState({ makes: { type: "new" } }) },
      ...MEETS.flatMap(({ type, words, keys }) => {
        const body = outline.standing.at(-1);
        return body
          ? [
              {
                name: `Makes: what is ${words} ${body.name}`,
                keys,
                run: () => place.setState({ makes: { type, body: body.id } }),
              },
            ]
          : [];
      }),
    ];
  }, [floor, head, design, navigate, viewport, mode, combs]);
}
