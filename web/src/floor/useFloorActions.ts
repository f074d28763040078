import { useCallback } from "react";
import { useNavigate } from "react-router";
import { outlineOf } from "../model/outline";
import { toggleHidden, type LaneName, type SceneMode } from "../model/place";
import { planeOf } from "../model/plane";
import type { Action } from "../reach/actions";
import { VIEWS, type ViewKey } from "../scene/framing";
import type { Viewport } from "../scene/viewport";
import { useFloor, useHead } from "./context";
import { choicesOf } from "./choices";
import { AXES, cutAlong, cutAt } from "./cutOpen";

const MEETS = [
  { type: "join", words: "joined to", keys: "s j" },
  { type: "cut", words: "cut from", keys: "s c" },
  { type: "overlap", words: "kept within", keys: "s o" },
] as const;

/** Everything that can be done on the floor, by name; put together when it is asked for, since a drag changes what fits many times a second. */
export function useFloorActions(viewport: Viewport | null): () => Action[] {
  const floor = useFloor();
  const { design } = useHead();
  const navigate = useNavigate();
  return useCallback(() => {
    const { place, undo, redo, change } = floor;
    const { steps } = floor.live.built.getState();
    const { hidden, selected } = place.getState();
    const plane = selected === null ? null : planeOf(steps[selected]);
    const outline = outlineOf(design.document, steps, floor.live.built.getState().standing);
    const choices = choicesOf(floor, design.document, outline, steps);
    const lane = (name: LaneName) => () =>
      place.setState(({ lanes }) => ({
        lanes: lanes.includes(name) ? lanes.filter((n) => n !== name) : [...lanes, name],
      }));
    const mode = (wanted: SceneMode) => () => place.setState({ mode: wanted });
    const byKind = choices.map(({ verb, title, act, disabled, keys, alike }) => ({
      name: `${verb}: ${title}`,
      run: () => void act(),
      disabled: disabled !== undefined,
      ...(keys ? { keys } : {}),
      ...(alike ? { alike } : {}),
    }));
    return [
      { name: "Undo", run: undo, disabled: !design.can_undo },
      { name: "Redo", run: redo, disabled: !design.can_redo },
      ...(Object.keys(VIEWS) as ViewKey[]).map((key) => ({
        name: `Look from: ${VIEWS[key].name}`,
        keys: key,
        run: () => viewport?.look(key),
      })),
      { name: "Fit everything into view", keys: "0", run: () => viewport?.fit() },
      {
        name: "Fit what is selected into view",
        keys: "9",
        alike: "zoom closer near",
        disabled: selected === null,
        run: () => viewport?.near(),
      },
      { name: "Drawn as: shade", keys: "v s", run: mode("shade") },
      { name: "Drawn as: edges", keys: "v e", run: mode("edges") },
      { name: "Drawn as: wire", keys: "v w", run: mode("wire") },
      { name: "Drawn as: see through", keys: "v t", alike: "transparent glass inside", run: mode("glass") },
      ...(plane
        ? [
            {
              name: "Look from: square on",
              keys: "5",
              alike: "normal plane station",
              run: () => viewport?.square(plane),
            },
          ]
        : []),
      ...outline.groups.map(({ body }) => ({
        name: `${hidden.includes(body.id) ? "Show" : "Hide"}: ${body.name}`,
        alike: "visible sight",
        run: () => toggleHidden(place, body.id),
      })),
      { name: "Show: all bodies", keys: "v a", disabled: !hidden.length, run: () => place.setState({ hidden: [] }) },
      ...AXES.map(({ title, axis }) => ({
        name: `Cut open: along ${title}`,
        keys: `c ${title}`,
        alike: "section view clip inside",
        run: () => viewport && place.setState({ cut: cutAlong(viewport, axis) }),
      })),
      ...(plane
        ? [
            {
              name: "Cut open: where the selected plane is",
              keys: "c s",
              run: () => place.setState({ cut: cutAt(plane, viewport) }),
            },
          ]
        : []),
      { name: "Cut open: close", keys: "c c", run: () => place.setState({ cut: null }) },
      { name: "Lane: twist", keys: "r t", run: lane("twist") },
      { name: "Lane: scale", keys: "r s", run: lane("scale") },
      { name: "Lane: area", keys: "r a", run: lane("area") },
      { name: "Lane: curvature", keys: "r c", run: lane("curvature") },
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
      { name: "Build to the end", run: () => void change([{ do: "build-up-to", step: null }]) },
      { name: "Unit: mm", run: () => void change([{ do: "set-unit", unit: "mm" }]) },
      { name: "Unit: cm", run: () => void change([{ do: "set-unit", unit: "cm" }]) },
      { name: "Unit: in", run: () => void change([{ do: "set-unit", unit: "in" }]) },
      { name: "Hand over a file", keys: "h o", run: () => place.setState({ open: "hand over" }) },
      { name: "Show all keys", keys: "?", run: () => place.setState({ open: "keys" }) },
      { name: "To the rack", keys: "g r", run: () => void navigate("/") },
    ];
  }, [floor, design, navigate, viewport]);
}
