import * as THREE from "three";

/** A reference picture on stage: its middle and its two half sides in space, mm. */
export interface StagedPicture {
  url: string;
  middle: readonly [number, number, number];
  right: readonly [number, number, number];
  up: readonly [number, number, number];
  opacity: number;
}

/** Reference pictures standing in space on their stations. */
export class PicturePlanes {
  readonly group = new THREE.Group();
  private readonly loader = new THREE.TextureLoader();
  private readonly textures = new Map<string, THREE.Texture>();
  private readonly square = new THREE.PlaneGeometry(2, 2);

  constructor(private readonly changed: () => void) {}

  set(pictures: StagedPicture[]): void {
    if (!pictures.length && !this.group.children.length) return;
    this.clear();
    for (const { url, middle, right, up, opacity } of pictures) {
      const material = new THREE.MeshBasicMaterial({
        map: this.texture(url),
        transparent: true,
        opacity,
        side: THREE.DoubleSide,
        depthWrite: false,
      });
      const mesh = new THREE.Mesh(this.square, material);
      const [r, u] = [new THREE.Vector3(...right), new THREE.Vector3(...up)];
      mesh.matrix.makeBasis(r, u, r.clone().cross(u).normalize()).setPosition(middle[0], middle[1], middle[2]);
      mesh.matrixAutoUpdate = false;
      this.group.add(mesh);
    }
    this.changed();
  }

  dispose(): void {
    this.clear();
    this.textures.forEach((texture) => texture.dispose());
    this.square.dispose();
  }

  private texture(url: string): THREE.Texture {
    const known = this.textures.get(url);
    if (known) return known;
    const texture = this.loader.load(url, this.changed);
    texture.colorSpace = THREE.SRGBColorSpace;
    this.textures.set(url, texture);
    return texture;
  }

  private clear(): void {
    for (const child of this.group.children)
      if (child instanceof THREE.Mesh) (child.material as THREE.Material).dispose();
    this.group.clear();
  }
}
