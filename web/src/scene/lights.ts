import { DirectionalLight, HemisphereLight, type Camera, type Scene } from "three";

/** Light from above and from the shoulder of whoever looks, so that no view is ever in the dark. */
export class Lights {
  private readonly key = new DirectionalLight("#fffaf0", 2.1);
  private readonly rim = new DirectionalLight("#dfe9ee", 0.8);

  constructor(scene: Scene) {
    scene.add(new HemisphereLight("#fdfdfb", "#a39d8e", 1.8), this.key, this.key.target, this.rim, this.rim.target);
  }

  follow(camera: Camera): void {
    this.key.position.set(-0.55, 0.75, 0.9).applyQuaternion(camera.quaternion);
    this.rim.position.set(0.9, -0.1, 0.1).applyQuaternion(camera.quaternion);
  }
}
