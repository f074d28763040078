import { CanvasTexture, Color, DoubleSide, MeshBasicMaterial, MeshLambertMaterial } from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { bendColours, colours } from "../theme/colours";
import { TOLD } from "./maps";

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

/** A colour as a shader reckons with it. */
const rgb = (colour: string): string =>
  new Color(colour)
    .toArray()
    .map((part) => part.toFixed(4))
    .join(", ");

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

/** What is told of the skin: pale in the middle of the scale, towards one colour below it and another above, with a thin line at every quarter. */
const COLOURED = `
  float told = clamp(vTold / fullTold, -1.0, 1.0);
  vec3 paint = mix(vec3(${rgb(bendColours.flat)}), told < 0.0 ? vec3(${rgb(bendColours.hollow)}) : vec3(${rgb(bendColours.round)}), abs(told));
  float quarters = abs(vTold / fullTold) * 4.0;
  float off_ = abs(fract(quarters + 0.5) - 0.5) / max(fwidth(quarters), 1e-6);
  float line_ = quarters > 0.5 && quarters < 4.5 ? 1.0 - smoothstep(0.3, 1.1, off_) : 0.0;
  outgoingLight = mix(paint, paint * 0.62, line_) * mix(0.66, 1.0, smoothstep(0.0, 0.45, facing));
`;

/** The skin of a body. Its inside, where it shows, is hatched, unless it is a sheet; at an outline, where a pixel lies between both, it is not. */
export function skinMaterial(fullTold = { value: 1 }): Skin {
  const gloss = { value: 0.5 };
  const hatched = { value: 1 };
  const material = new MeshLambertMaterial({
    color: colours.body,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 2,
  });
  material.onBeforeCompile = (shader) => {
    shader.uniforms["gloss"] = gloss;
    shader.uniforms["hatched"] = hatched;
    shader.uniforms["fullTold"] = fullTold;
    shader.vertexShader = shader.vertexShader
      .replace(
        "#include <common>",
        `#include <common>
        #ifdef FLOW
        attribute vec2 _flow;
        varying vec2 vFlow;
        #endif
        #ifdef TOLD
        attribute float ${TOLD};
        varying float vTold;
        #endif`,
      )
      .replace(
        "#include <begin_vertex>",
        `#include <begin_vertex>
        #ifdef FLOW
        vFlow = _flow * ${MOST_FLOW}.0;
        #endif
        #ifdef TOLD
        vTold = ${TOLD};
        #endif`,
      );
    shader.fragmentShader = shader.fragmentShader
      .replace(
        "#include <common>",
        `#include <common>
        uniform float gloss;
        uniform float hatched;
        uniform float fullTold;
        #ifdef FLOW
        varying vec2 vFlow;
        #endif
        #ifdef TOLD
        varying float vTold;
        #endif`,
      )
      .replace(
        "#include <opaque_fragment>",
        `${STUDIO}\n#ifdef STRIPES\n${STRIPES}\n#endif\n#ifdef TOLD\n${COLOURED}\n#endif\n#include <opaque_fragment>`,
      )
      .replace(
        "#include <dithering_fragment>",
        `#include <dithering_fragment>
      #ifdef FLOW
      ${FLOW}
      #elif !defined(SEE_THROUGH)
      if (hatched > 0.5 && !gl_FrontFacing && facing > 0.14) {
        float stripe = step(mod(gl_FragCoord.x + gl_FragCoord.y, 9.0), 2.0);
        gl_FragColor.rgb = mix(gl_FragColor.rgb * 0.9 + 0.08, vec3(0.64, 0.33, 0.22), stripe * 0.75);
      }
      #endif`,
      );
  };
  return Object.assign(material, { gloss, hatched });
}

/** gloss: from matt, 0, to polished, 1: how strongly the lights are mirrored. hatched: 1 where its inside is. */
export type Skin = MeshLambertMaterial & { gloss: { value: number }; hatched: { value: number } };

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
