/**
 * When a picture is drawn finely: after so many ms without a change. always: of whatever is drawn, not only of what is shown. gathers: ms for which
 * outlines and marks wait for the body that follows from them, so that one picture shows both. joins: ms for which a body waits for the outlines that
 * were told with it.
 */
export interface Patience {
  rest: number;
  always: boolean;
  gathers: number;
  joins: number;
}

const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

/** Where the processor draws, four times as many pixels cost as much as all the rest of the page: they wait until somebody only looks. */
export function patience(gl: WebGLRenderingContext | WebGL2RenderingContext): Patience {
  const told = gl.getExtension("WEBGL_debug_renderer_info");
  const name: unknown = gl.getParameter(told ? told.UNMASKED_RENDERER_WEBGL : gl.RENDERER);
  return typeof name === "string" && SOFTWARE.test(name)
    ? { rest: 3000, always: true, gathers: 60, joins: 25 }
    : { rest: 900, always: false, gathers: 0, joins: 0 };
}
