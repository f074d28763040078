import { DirectionalLight, HemisphereLight, type Camera, type Scene } from "three";

/** Light from above and from the shoulder of whoever looks, so that no view is ever in the dark. */
export class Lights {
  private readonly key = new DirectionalLight("#fff8ec", 2.0);
  private readonly rim = new DirectionalLight("#dfe9ee", 0.7);

  constructor(scene: Scene) {
    scene.add(new HemisphereLight("#fffdf6", "#b9ac92", 1.9), this.key, this.key.target, this.rim, this.rim.target);
  }

  follow(camera: Camera): void {
    this.key.position.set(-0.55, 0.75, 0.9).applyQuaternion(camera.quaternion);
    this.rim.position.set(0.9, -0.1, 0.1).applyQuaternion(camera.quaternion);
  }
}
