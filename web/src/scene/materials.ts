import { CanvasTexture, DoubleSide, MeshBasicMaterial, MeshLambertMaterial } from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { colours } from "../theme/colours";

/**
 * A small studio, told by what the skin mirrors of it: a long window above, a narrow one beside, and a pale floor. It goes with the eye, so that
 * the bands of light run over a body as it is turned, and a dent or a kink shows as a break in them. It costs a few products for each pixel.
 */
const STUDIO = `
  vec3 eye = normalize(vViewPosition);
  float facing = clamp(dot(normal, eye), 0.0, 1.0);
  vec3 mirrored = reflect(-eye, normal);
  float above = smoothstep(0.42, 0.52, mirrored.y) * (1.0 - smoothstep(0.86, 0.96, mirrored.y)) * (1.0 - smoothstep(0.5, 0.95, abs(mirrored.x + 0.1)));
  float beside = smoothstep(0.60, 0.68, -mirrored.x) * (1.0 - smoothstep(0.82, 0.9, -mirrored.x)) * (1.0 - smoothstep(0.2, 0.75, abs(mirrored.y)));
  float floor_ = smoothstep(0.25, 0.9, -mirrored.y);
  float sheen = 0.05 + 0.95 * pow(1.0 - facing, 5.0);
  outgoingLight *= mix(0.7, 1.0, smoothstep(0.0, 0.5, facing));
  sheen *= 0.3 + 1.4 * gloss;
  outgoingLight += vec3(1.0, 0.985, 0.95) * (0.25 + 1.5 * gloss) * (above * (0.24 + 0.6 * sheen) + beside * (0.22 + 0.5 * sheen));
  outgoingLight += vec3(0.86, 0.80, 0.70) * floor_ * (0.05 + 0.25 * sheen);
`;

/** How many flow lines the largest number in the `_flow` of a mesh stands for. */
const MOST_FLOW = 64;
/** Nothing but the lines along which the parameters of a face are whole: both sides of the body, near and far. */
const FLOW = `
  vec2 wide = fwidth(vFlow);
  vec2 off = abs(fract(vFlow + 0.5) - 0.5) / max(wide, vec2(1e-6));
  float nearest = min(wide.x > 1e-6 ? off.x : 99.0, wide.y > 1e-6 ? off.y : 99.0);
  float ink = 1.0 - smoothstep(0.35, 1.25, nearest);
  if (ink < 0.04) discard;
  gl_FragColor = vec4(diffuse, ink * (gl_FrontFacing ? 0.85 : 0.35));
`;

/**
 * A room with long dark bands across it, mirrored by the skin: they run on without a break where the skin touches its neighbour, without a bend
 * where it is curved like it. Each band is as wide in angle as the next; where they come too close for pixels they fade into grey.
 */
const BANDS = 22;
const STRIPES = `
  float band = acos(clamp(mirrored.y, -1.0, 1.0)) * ${BANDS}.0 / 3.14159265;
  float step_ = fwidth(band);
  float dark = smoothstep(-step_, step_, abs(fract(band) - 0.5) - 0.25);
  dark = mix(dark, 0.5, smoothstep(0.35, 0.9, step_));
  outgoingLight = mix(vec3(0.955, 0.94, 0.90), vec3(0.10, 0.15, 0.18), dark) * mix(0.62, 1.0, smoothstep(0.0, 0.35, facing));
`;

/** The skin of a body. Its inside, where it shows, is hatched; at an outline, where a pixel lies between both, it is not. */
export function skinMaterial(): Skin {
  const gloss = { value: 0.5 };
  const material = new MeshLambertMaterial({
    color: colours.body,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 2,
  });
  material.onBeforeCompile = (shader) => {
    shader.uniforms["gloss"] = gloss;
    shader.vertexShader = shader.vertexShader
      .replace(
        "#include <common>",
        "#include <common>\n#ifdef FLOW\nattribute vec2 _flow;\nvarying vec2 vFlow;\n#endif",
      )
      .replace(
        "#include <begin_vertex>",
        `#include <begin_vertex>\n#ifdef FLOW\nvFlow = _flow * ${MOST_FLOW}.0;\n#endif`,
      );
    shader.fragmentShader = shader.fragmentShader
      .replace("#include <common>", "#include <common>\nuniform float gloss;\n#ifdef FLOW\nvarying vec2 vFlow;\n#endif")
      .replace(
        "#include <opaque_fragment>",
        `${STUDIO}\n#ifdef STRIPES\n${STRIPES}\n#endif\n#include <opaque_fragment>`,
      )
      .replace(
        "#include <dithering_fragment>",
        `#include <dithering_fragment>
      #ifdef FLOW
      ${FLOW}
      #elif !defined(SEE_THROUGH)
      if (!gl_FrontFacing && facing > 0.14) {
        float stripe = step(mod(gl_FragCoord.x + gl_FragCoord.y, 9.0), 2.0);
        gl_FragColor.rgb = mix(gl_FragColor.rgb * 0.9 + 0.08, vec3(0.64, 0.33, 0.22), stripe * 0.75);
      }
      #endif`,
      );
  };
  return Object.assign(material, { gloss });
}

/** gloss: from matt, 0, to polished, 1: how strongly the lights are mirrored. */
export type Skin = MeshLambertMaterial & { gloss: { value: number } };

/** The skin of a body of another time, laid over the present one. */
export const ghostMaterial = (): MeshBasicMaterial =>
  new MeshBasicMaterial({
    color: colours.estuary,
    transparent: true,
    opacity: 0.32,
    depthWrite: false,
    depthTest: false,
    side: DoubleSide,
  });

/** A face that is pointed at, over the skin. */
export const litMaterial = (): MeshBasicMaterial =>
  new MeshBasicMaterial({
    color: colours.buoy,
    transparent: true,
    opacity: 0.38,
    depthWrite: false,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -2,
  });

export const lineMaterial = (color: string, width: number): LineMaterial =>
  new LineMaterial({ color, linewidth: width, worldUnits: false });

/** A line that shows faintly through what is before it. */
export const throughMaterial = (color: string, width: number): LineMaterial =>
  new LineMaterial({ color, linewidth: width, worldUnits: false, transparent: true, opacity: 0.3, depthTest: false });

/** The soft dark patch that a body stands on: under it, never over it, and not there for who looks from below. */
export function shadowMaterial(): MeshBasicMaterial {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 128;
  const draw = canvas.getContext("2d");
  if (draw) {
    const fade = draw.createRadialGradient(64, 64, 0, 64, 64, 64);
    fade.addColorStop(0, "rgba(70,56,30,0.30)");
    fade.addColorStop(0.65, "rgba(70,56,30,0.16)");
    fade.addColorStop(1, "rgba(70,56,30,0)");
    draw.fillStyle = fade;
    draw.fillRect(0, 0, 128, 128);
  }
  return new MeshBasicMaterial({
    map: new CanvasTexture(canvas),
    transparent: true,
    depthWrite: false,
  });
}
