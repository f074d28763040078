import { CanvasTexture, DoubleSide, MeshBasicMaterial, MeshStandardMaterial } from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { colours } from "../theme/colours";

/** The skin of a body. Its inside, where it shows, is hatched. */
export function skinMaterial(): MeshStandardMaterial {
  const material = new MeshStandardMaterial({
    color: colours.body,
    roughness: 0.62,
    metalness: 0,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 2,
  });
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      "#include <dithering_fragment>",
      `#include <dithering_fragment>
      if (!gl_FrontFacing) {
        float stripe = step(mod(gl_FragCoord.x + gl_FragCoord.y, 9.0), 2.0);
        gl_FragColor.rgb = mix(gl_FragColor.rgb * 0.9 + 0.08, vec3(0.64, 0.33, 0.22), stripe * 0.75);
      }`,
    );
  };
  return material;
}

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

/** The soft dark patch that a body stands on. */
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
    depthTest: false,
  });
}
