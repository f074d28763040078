import { useCallback } from "react";
import { useNavigate } from "react-router";
import { outlineOf } from "../model/outline";
import type { LaneName, SceneMode } from "../model/place";
import type { Action } from "../reach/actions";
import { VIEWS, type ViewKey } from "../scene/framing";
import type { Viewport } from "../scene/viewport";
import { useFloor, useHead } from "./context";
import { choicesOf, type Choice } from "./Verbs";

const LETTERS: Record<string, string> = {
  Circle: "d c",
  Ellipse: "d e",
  Rectangle: "d r",
  "Rounded rectangle": "d o",
  Slot: "d s",
  "Regular polygon": "d p",
  Foil: "d f",
  "Spline through points": "d l",
  Point: "d t",
};

/** Everything that can be done on the floor, by name; put together when it is asked for, since a drag changes what fits many times a second. */
export function useFloorActions(viewport: Viewport | null): () => Action[] {
  const floor = useFloor();
  const { design } = useHead();
  const navigate = useNavigate();
  return useCallback(() => {
    const { place, undo, redo, change } = floor;
    const { steps } = floor.live.built.getState();
    const choices = choicesOf(floor, design.document, outlineOf(design.document, steps), steps);
    const lane = (name: LaneName) => () =>
      place.setState(({ lanes }) => ({
        lanes: lanes.includes(name) ? lanes.filter((n) => n !== name) : [...lanes, name],
      }));
    const mode = (wanted: SceneMode) => () => place.setState({ mode: wanted });
    const verbs = (verb: string, list: (Choice | null)[]): Action[] =>
      list
        .filter((choice): choice is Choice => choice !== null)
        .map((choice) => ({
          name: `${verb}: ${choice.title}`,
          run: () => void choice.act(),
          disabled: choice.disabled !== undefined,
          ...(verb === "Draw" && LETTERS[choice.title] ? { keys: LETTERS[choice.title] ?? "" } : {}),
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
      { name: "Drawn as: shade", keys: "v s", run: mode("shade") },
      { name: "Drawn as: edges", keys: "v e", run: mode("edges") },
      { name: "Drawn as: wire", keys: "v w", run: mode("wire") },
      { name: "Lane: twist", keys: "r t", run: lane("twist") },
      { name: "Lane: scale", keys: "r s", run: lane("scale") },
      { name: "Lane: area", keys: "r a", run: lane("area") },
      { name: "Lane: curvature", keys: "r c", run: lane("curvature") },
      ...verbs("Place", choices.Place),
      ...verbs("Draw", choices.Draw),
      ...verbs("Shape", choices.Shape),
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
