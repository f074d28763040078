import { Vector3, type Camera } from "three";

const AXES: [string, Vector3][] = [
  ["x", new Vector3(1, 0, 0)],
  ["y", new Vector3(0, 1, 0)],
  ["z", new Vector3(0, 0, 1)],
];
const SIZE = 30;
const arm = new Vector3();

/** Three thin arms that say where x, y and z point now. */
export class Tripod {
  private readonly drawing = document.createElementNS("http://www.w3.org/2000/svg", "svg");
  private readonly arms = AXES.map(([name]) => {
    const line = document.createElementNS("http://www.w3.org/2000/svg", "line");
    const text = document.createElementNS("http://www.w3.org/2000/svg", "text");
    text.textContent = name;
    this.drawing.append(line, text);
    return { line, text };
  });

  constructor(container: HTMLElement) {
    this.drawing.setAttribute("viewBox", "-46 -46 92 92");
    this.drawing.setAttribute("class", "scene-tripod");
    this.drawing.setAttribute("aria-hidden", "true");
    container.append(this.drawing);
  }

  turn(camera: Camera): void {
    AXES.forEach(([, axis], i) => {
      arm.copy(axis).applyQuaternion(camera.quaternion.clone().invert());
      const made = this.arms[i];
      made?.line.setAttribute("x2", String(arm.x * SIZE));
      made?.line.setAttribute("y2", String(-arm.y * SIZE));
      made?.text.setAttribute("x", String(arm.x * (SIZE + 10)));
      made?.text.setAttribute("y", String(-arm.y * (SIZE + 10) + 4));
    });
  }

  dispose(): void {
    this.drawing.remove();
  }
}
