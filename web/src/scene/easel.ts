import { WebGLRenderer } from "three";

type Program = NonNullable<WebGLRenderer["info"]["programs"]>[number];

/** What nobody draws with just now. */
let resting: WebGLRenderer | null = null;
const held = new WeakSet<Program>();

/**
 * What draws pictures of bodies. Making its shaders takes longer than most pictures, so it is handed on: from the pictures on the rack to the scene of
 * a design, and from that to the next.
 */
export function takeRenderer(): WebGLRenderer {
  const ready = resting;
  resting = null;
  if (ready && !ready.getContext().isContextLost()) return ready;
  return new WebGLRenderer({ antialias: true, alpha: true, stencil: true });
}

/** Its shaders stay when the materials that they were made for go. To be told before those do. */
export function keepShaders(renderer: WebGLRenderer): void {
  for (const program of renderer.info.programs ?? []) {
    if (held.has(program)) continue;
    held.add(program);
    program.usedTimes++;
  }
}

/** Whoever drew has put away everything that was drawn. */
export function leaveRenderer(renderer: WebGLRenderer): void {
  if (!resting && !renderer.getContext().isContextLost()) {
    renderer.renderLists.dispose();
    resting = renderer;
    return;
  }
  renderer.dispose();
  // what a context holds is let go with it: by itself it stays until the browser finds that nobody has it any more
  renderer.forceContextLoss();
}
