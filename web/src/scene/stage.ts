import * as THREE from "three";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";
import type { SceneMode } from "../model/place";
import type { Cut } from "../model/place";
import type { CutThere } from "../model/counted";
import { refined } from "./refined";
import { mapped, toldAt, type MapMode, type MapScale } from "./maps";
import { colours } from "../theme/colours";
import { Opened } from "./opened";
import { nameOf, RING, UNDER, type BodyGeometry } from "./bodyGeometry";
import { chords } from "./lines";
import { facesOf } from "./facesOf";
import { ghostMaterial, lineMaterial, litMaterial, shadowMaterial, throughMaterial } from "./materials";
import { planeCut } from "./planeCut";
import { Skins, type Paint } from "./skins";
import type { Tag } from "./tags";
import { Picked } from "./picked";

/** A body on stage. stale: it could not be rebuilt, this is how it was. */
export interface StagedBody extends Paint {
  id: string;
  geometry: BodyGeometry;
}

/** Whether two rows of bodies look the same: geometry that was read once is the same object for ever. */
export function sameBodies(a: readonly StagedBody[], b: readonly StagedBody[]): boolean {
  const same = (one: StagedBody, other: StagedBody | undefined) =>
    (Object.keys(one) as (keyof StagedBody)[]).every((key) => one[key] === other?.[key]);
  return a.length === b.length && a.every((one, i) => same(one, b[i]));
}

/** A section on stage; loose ones are drawn here, the others come with their body. outline, beside: flat points in space, mm; beside: round its holes and further areas. */
export interface StagedSection {
  id: string;
  mark: string;
  label: string;
  loose: boolean;
  outline: Float32Array;
  beside: Float32Array[];
  /** The way its station goes, and a point on it. */
  axis: readonly [number, number, number];
  origin: readonly [number, number, number];
}

/** A rail on stage. line: flat points in space, mm. */
export interface StagedRail {
  id: string;
  line: Float32Array;
  /** Only to be seen: a click goes through it. */
  mute?: boolean;
}

/** A plane square to a direction through a body, mm along it. */
export interface Guide extends CutThere {
  body: string;
}

const MAPS: readonly string[] = ["bends", "lean", "thickness"] satisfies MapMode[];
const isMap = (mode: SceneMode): mode is MapMode => MAPS.includes(mode);

/** What stands in the scene: bodies, outlines, rails, the shadow under them, and what lies over them. */
export class Stage {
  bodies: StagedBody[] = [];
  sections: StagedSection[] = [];
  rails: StagedRail[] = [];
  /** Teeth of curvature combs, as pairs of points. */
  combs: Float32Array = new Float32Array();
  selected: string | null = null;
  hovered: string | null = null;
  mode: SceneMode = "edges";
  guide: Guide | null = null;
  /** Faces and edges that are lit, by name, and a body as a whole. */
  lit: readonly string[] = [];
  /** mm in the unit of the design. */
  unit = 1;
  /** The way in which a part leaves its mould. */
  pull: readonly [number, number, number] = [0, 0, 1];
  /** The meshes that are drawn, by those of the bodies: finer ones where colours tell what changes within a face. */
  private seen = new Map<THREE.BufferGeometry, THREE.BufferGeometry>();
  /** What colours tell; null while they tell nothing. */
  scale: MapScale | null = null;
  readonly box = new THREE.Box3();
  private readonly group = new THREE.Group();
  private readonly overlay = new THREE.Group();
  private readonly light = new THREE.Group();
  private readonly ghosts = new THREE.Group();
  private readonly ghostSkin = ghostMaterial();
  private readonly skins = new Skins();
  private readonly shadow = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), shadowMaterial());
  private readonly lineStyles = {
    comb: lineMaterial(colours.buoy, 0.9),
    edge: lineMaterial(colours.ink, 1.3),
    ring: lineMaterial(colours.brass, 1.6),
    chosen: lineMaterial(colours.buoy, 3),
    rail: lineMaterial(colours.estuary, 2.4),
    hidden: throughMaterial(colours.estuary, 2),
    hiddenChosen: throughMaterial(colours.buoy, 2.4),
    guide: lineMaterial(colours.buoy, 2),
  };
  private readonly litSkin = litMaterial();
  private readonly opened: Opened;
  readonly picked = new Picked(this.lineStyles.chosen, this.litSkin);

  constructor(scene: THREE.Scene) {
    this.opened = new Opened(scene);
    this.shadow.visible = false;
    scene.add(this.group, this.shadow, this.overlay, this.ghosts, this.light, this.picked.group);
  }

  /** Everything drawn anew. */
  compose(): void {
    this.clear();
    this.box.makeEmpty();
    this.skins.begin(
      this.mode,
      this.bodies.map(({ id }) => id),
    );
    const surfaces = this.bodies.flatMap(({ geometry, aside }) => (aside ? [] : [geometry.surface]));
    this.seen = new Map(surfaces.map((surface) => [surface, this.mode === "thickness" ? refined(surface) : surface]));
    const seen = [...this.seen.values()];
    this.scale = isMap(this.mode) && seen.length ? mapped(this.mode, seen, this.unit, this.pull) : null;
    if (this.scale !== null) this.skins.full.value = this.scale.full;
    for (const body of this.bodies) {
      const surface = this.seen.get(body.geometry.surface) ?? body.geometry.surface;
      const mesh = new THREE.Mesh(surface, this.skins.painted(body.id, body, body.geometry.sheet));
      mesh.userData["step"] = body.id;
      mesh.userData["aside"] = body.aside ?? false;
      this.group.add(mesh);
      body.geometry.surface.computeBoundingBox();
      if (body.geometry.surface.boundingBox) this.box.union(body.geometry.surface.boundingBox);
      for (const line of body.geometry.lines) if (!line.name.startsWith(UNDER)) this.addLine(line.name, line.segments);
    }
    for (const section of this.sections) {
      // what was made into a body with others shows no ring there: its outline is seen while it is meant
      const meant = section.id === this.selected || section.id === this.hovered;
      if (section.loose || !this.bodies.length || (meant && !this.hasRing(section.id))) this.addOutline(section);
    }
    for (const { id, line } of this.rails) {
      const chosen = id === this.selected || id === this.hovered;
      this.add(chords(line), chosen ? this.lineStyles.chosen : this.lineStyles.rail);
      this.add(chords(line), chosen ? this.lineStyles.hiddenChosen : this.lineStyles.hidden);
      for (let i = 0; i < line.length; i += 3) this.box.expandByPoint(new THREE.Vector3().fromArray(line, i));
    }
    if (this.combs.length) this.add(this.combs, this.lineStyles.comb);
    this.opened.compose(surfaces, this.box);
    this.placeShadow();
    this.drawGuide();
    this.drawLight();
  }

  /** Cut bodies open, or close them again. */
  setCut(cut: Cut | null): void {
    this.opened.cut = cut;
    const planes = this.opened.planes;
    const { edge, ring, chosen } = this.lineStyles;
    this.skins.cut(planes);
    for (const material of [this.litSkin, edge, ring, chosen]) {
      if ((material.clippingPlanes?.length ?? 0) !== planes.length) material.needsUpdate = true;
      material.clippingPlanes = planes;
    }
  }

  /** Light faces and edges by name; the name of a step lights all edges of its body. */
  drawLight(): void {
    for (const child of [...this.light.children]) {
      this.light.remove(child);
      if (child instanceof THREE.Mesh || child instanceof LineSegments2) child.geometry.dispose();
    }
    if (!this.lit.length) return;
    const wanted = new Set(this.lit);
    for (const { id, geometry } of this.bodies) {
      for (const line of geometry.lines) {
        const name = nameOf(line);
        if (line.segments.length >= 6 && (wanted.has(name) || (wanted.has(id) && !name.startsWith(RING))))
          this.light.add(
            new LineSegments2(new LineSegmentsGeometry().setPositions(line.segments), this.lineStyles.chosen as never),
          );
      }
      const numbers = new Set(geometry.faces.flatMap((name, i) => (wanted.has(name) ? [i] : [])));
      if (numbers.size) this.light.add(new THREE.Mesh(facesOf(geometry, numbers), this.litSkin));
    }
  }

  /** The box round a body, a section as it lies on its body, or a rail; null where there is no such thing. */
  boxOf(id: string | null): THREE.Box3 | null {
    const body = this.bodies.find((one) => one.id === id);
    if (body) return body.geometry.surface.boundingBox;
    const line = this.tags().find((tag) => tag.id === id)?.ring ?? this.rails.find((rail) => rail.id === id)?.line;
    return line?.length ? new THREE.Box3().setFromArray(Array.from(line)) : null;
  }

  /** The numbers beside the sections, where these lie on the bodies: laws may have taken them elsewhere than they were drawn. */
  tags(): Tag[] {
    const rings = new Map(this.bodies.flatMap((body) => body.geometry.lines.map((line) => [line.name, line.segments])));
    return this.sections.map(({ id, mark, label, outline }) => ({
      id,
      mark,
      label,
      ring: rings.get(RING + id) ?? outline,
    }));
  }

  /** Whether a section lies on a body, which draws it. */
  hasRing(section: string): boolean {
    return this.bodies.some(({ geometry }) => geometry.lines.some((line) => line.name === RING + section));
  }

  /** Lay bodies of another time over the present ones. */
  setGhosts(geometries: BodyGeometry[]): void {
    this.ghosts.clear();
    for (const { surface } of geometries) this.ghosts.add(new THREE.Mesh(surface, this.ghostSkin));
  }

  drawGuide(): void {
    for (const child of this.overlay.children) if (child instanceof LineSegments2) child.geometry.dispose();
    this.overlay.clear();
    const body = this.bodies.find((b) => b.id === this.guide?.body);
    if (!this.guide || !body) return;
    const segments = planeCut(body.geometry.surface, this.guide.axis, this.guide.level, this.guide.belongs);
    if (segments.length >= 6)
      this.overlay.add(
        new LineSegments2(new LineSegmentsGeometry().setPositions(segments), this.lineStyles.guide as never),
      );
  }

  /** The body that a ray meets first, where, and on which of its faces. */
  hit(ray: THREE.Raycaster): { body: string; at: THREE.Vector3; face: string | null; told: number | null } | null {
    const bodies = this.group.children.filter((child) => child instanceof THREE.Mesh && child.userData["step"]);
    const met = ray.intersectObjects(bodies);
    // what is only to be looked at stands in nobody's way
    const first = met.find(({ object }) => !object.userData["aside"]) ?? met[0];
    if (!first) return null;
    const body = first.object.userData["step"] as string;
    const geometry = this.bodies.find((b) => b.id === body)?.geometry;
    const seen = (first.object as THREE.Mesh).geometry;
    const number = first.face ? seen.getAttribute("_face")?.getX(first.face.a) : undefined;
    return {
      body,
      at: first.point,
      face: number === undefined || first.object.userData["aside"] ? null : (geometry?.faces[number] ?? null),
      told: this.scale === null || !geometry || !first.face ? null : toldAt(seen, first.face, first.point),
    };
  }

  dispose(): void {
    this.clear();
    this.guide = null;
    this.drawGuide();
    this.lit = [];
    this.drawLight();
    this.picked.dispose();
    this.litSkin.dispose();
    this.ghosts.clear();
    this.ghostSkin.dispose();
    this.skins.dispose();
    Object.values(this.lineStyles).forEach((style) => style.dispose());
    this.shadow.geometry.dispose();
    this.shadow.material.map?.dispose();
    this.shadow.material.dispose();
  }

  private clear(): void {
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (child instanceof LineSegments2) child.geometry.dispose();
    }
  }

  private addLine(name: string, segments: Float32Array): void {
    const section = name.startsWith(RING) ? name.slice(RING.length) : null;
    const chosen = section !== null && (section === this.selected || section === this.hovered);
    if (this.mode === "shade" && !chosen) return;
    this.add(segments, chosen ? this.lineStyles.chosen : section ? this.lineStyles.ring : this.lineStyles.edge);
  }

  private addOutline(section: StagedSection): void {
    const points = section.outline;
    for (let i = 0; i < points.length; i += 3) this.box.expandByPoint(new THREE.Vector3().fromArray(points, i));
    const chosen = section.id === this.selected || section.id === this.hovered;
    for (const line of [points, ...section.beside])
      this.add(chords(line), chosen ? this.lineStyles.chosen : this.lineStyles.ring);
  }

  private add(segments: Float32Array, material: THREE.Material): void {
    if (segments.length < 6) return;
    const line = new LineSegments2(new LineSegmentsGeometry().setPositions(segments), material as never);
    this.group.add(line);
  }

  private placeShadow(): void {
    this.shadow.visible = this.bodies.length > 0 && this.mode !== "wire";
    const size = this.box.getSize(new THREE.Vector3());
    const middle = this.box.getCenter(new THREE.Vector3());
    this.shadow.position.set(middle.x, middle.y, this.box.min.z - 0.002 * size.z);
    this.shadow.scale.set(size.x * 1.55, size.y * 1.55, 1);
  }
}
