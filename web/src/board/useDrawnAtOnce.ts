import { useEffect, useLayoutEffect, useRef, type RefObject } from "react";
import { useFloor } from "../floor/context";
import { along, drawnOf, type XY } from "./drawing";
import type { BoardState } from "./useBoard";

interface Places {
  points: Readonly<Record<string, XY>>;
  paths: Readonly<Record<string, string>>;
}

function put(element: Element, name: string, value: string): void {
  if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}

/** Curves and points that are on a sheet, where they are told to be; where they are reached for stays as the sheet was made. there: where they are. */
function draw(sheet: SVGSVGElement, { points, paths }: Places, toScreen: (p: XY) => XY, there?: Places): void {
  for (const curve of sheet.querySelectorAll("[data-curve]")) {
    const id = curve.getAttribute("data-curve") ?? "";
    const path = paths[id];
    if (path === undefined || path === there?.paths[id]) continue;
    for (const line of curve.children) if (!line.hasAttribute("data-reach")) put(line, "d", path);
  }
  for (const point of sheet.querySelectorAll("[data-point]")) {
    const id = point.getAttribute("data-point") ?? "";
    const at = points[id];
    const was = there?.points[id];
    if (!at || (was && was[0] === at[0] && was[1] === at[1])) continue;
    const [x, y] = toScreen(at);
    for (const dot of point.children)
      if (!dot.hasAttribute("data-reach")) put(dot, "transform", `translate(${x} ${y})`);
  }
}

/** While something is pulled its lines are put on the sheet the moment they are told; the sheet itself, and all that is said on it, follows when there is time.
 *
 * A sheet that was made of less than is told by now is set right before it is seen.
 */
export function useDrawnAtOnce(
  sheet: RefObject<SVGSVGElement | null>,
  { section, begun, way, asTold }: BoardState,
  toScreen: (p: XY) => XY,
): void {
  const { built } = useFloor().live;
  const screen = useRef(toScreen);
  const ahead = useRef(false);

  useLayoutEffect(() => {
    screen.current = toScreen;
    if (!ahead.current || !sheet.current) return;
    const { [section.id]: status } = built.getState().steps;
    const { [section.id]: lines } = built.getState().lines;
    const before = drawnOf(section, status, begun);
    const { points, now } = lines ? along(before, lines) : before;
    const paths = Object.fromEntries(now?.curves.map(({ id, path }) => [id, path]) ?? []);
    draw(sheet.current, { points, paths }, toScreen);
    ahead.current = asTold.lines !== lines || asTold.status !== status;
  });

  useEffect(
    () =>
      built.subscribe(({ lines: { [section.id]: lines } }, before) => {
        if (!lines || lines === before.lines[section.id] || !sheet.current) return;
        ahead.current = true;
        // what was told before is there: it was put there, or the sheet was made of it
        draw(sheet.current, lines, screen.current, before.lines[section.id]);
        way.setState(({ to }) => ({ seen: to }));
      }),
    [built, section.id, sheet, way],
  );
}
