import * as THREE from "three";
import type { Cut } from "../model/place";
import { colours } from "../theme/colours";

/** Stripes of the hatching across all that is seen. */
const STRIPES = 52;

/**
 * Bodies cut open by a plane: what lies beyond it is not drawn, and where the plane runs inside of a body it is hatched. For each pixel of the plane the
 * stencil counts how many skins are entered and left again behind it.
 */
export class Opened {
  readonly plane = new THREE.Plane();
  private readonly group = new THREE.Group();
  private readonly back = counting(THREE.BackSide, THREE.IncrementWrapStencilOp, this.plane);
  private readonly front = counting(THREE.FrontSide, THREE.DecrementWrapStencilOp, this.plane);
  private readonly hatch = hatched();
  private readonly cap = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), this.hatch);
  cut: Cut | null = null;

  constructor(scene: THREE.Scene) {
    this.cap.renderOrder = 3;
    this.cap.onAfterRender = (renderer) => renderer.clearStencil();
    scene.add(this.group);
  }

  /** The plane by which materials are clipped. */
  get planes(): THREE.Plane[] {
    return this.cut ? [this.plane] : [];
  }

  compose(surfaces: readonly THREE.BufferGeometry[], box: THREE.Box3): void {
    this.group.clear();
    if (!this.cut || box.isEmpty()) return;
    const axis = new THREE.Vector3(...this.cut.axis);
    this.plane.set(axis.clone().negate(), this.cut.at);
    for (const surface of surfaces)
      for (const material of [this.back, this.front]) {
        const mesh = new THREE.Mesh(surface, material);
        mesh.renderOrder = 2;
        mesh.raycast = () => undefined;
        this.group.add(mesh);
      }
    const size = box.getSize(new THREE.Vector3()).length() * 1.5;
    const middle = box.getCenter(new THREE.Vector3());
    this.cap.position.copy(middle).addScaledVector(axis, this.cut.at - middle.dot(axis));
    this.cap.quaternion.setFromUnitVectors(new THREE.Vector3(0, 0, 1), axis);
    this.cap.scale.setScalar(size);
    this.cap.raycast = () => undefined;
    this.group.add(this.cap);
  }

  dispose(): void {
    this.group.clear();
    this.cap.geometry.dispose();
    for (const material of [this.back, this.front, this.hatch]) material.dispose();
    this.hatch.map?.dispose();
  }
}

function counting(side: THREE.Side, op: THREE.StencilOp, plane: THREE.Plane): THREE.Material {
  const material = new THREE.MeshBasicMaterial({ side, clippingPlanes: [plane] });
  material.colorWrite = false;
  material.depthWrite = false;
  material.depthTest = false;
  material.stencilWrite = true;
  material.stencilFunc = THREE.AlwaysStencilFunc;
  material.stencilFail = material.stencilZFail = material.stencilZPass = op;
  return material;
}

function hatched(): THREE.MeshBasicMaterial {
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = 64;
  const pen = canvas.getContext("2d");
  if (pen) {
    pen.fillStyle = colours.panel;
    pen.fillRect(0, 0, 64, 64);
    pen.strokeStyle = colours.brassText;
    pen.lineWidth = 7;
    pen.beginPath();
    for (const shift of [-64, 0, 64]) {
      pen.moveTo(shift - 8, 72);
      pen.lineTo(shift + 72, -8);
    }
    pen.stroke();
  }
  const map = new THREE.CanvasTexture(canvas);
  map.colorSpace = THREE.SRGBColorSpace;
  map.wrapS = map.wrapT = THREE.RepeatWrapping;
  map.repeat.set(STRIPES, STRIPES);
  map.anisotropy = 8;
  const material = new THREE.MeshBasicMaterial({ map, side: THREE.DoubleSide });
  material.stencilWrite = true;
  material.stencilRef = 0;
  material.stencilFunc = THREE.NotEqualStencilFunc;
  material.stencilFail = material.stencilZFail = material.stencilZPass = THREE.ReplaceStencilOp;
  return material;
}
