import type { Plane } from "three";
import type { SceneMode } from "../model/place";
import { colours } from "../theme/colours";
import { skinMaterial, type Skin } from "./materials";

/** How a body is painted: by its finish, or as one that could not be rebuilt. */
export interface Paint {
  colour: string | null;
  gloss: number;
  stale: boolean;
}

const STALE = "#D9D4C8";

/** The skins of all bodies on stage, one for each, all drawn the same way. */
export class Skins {
  private readonly of = new Map<string, Skin>();
  private planes: Plane[] = [];
  private mode: SceneMode = "edges";

  /** Draw them all in a mode; only these bodies are there. */
  begin(mode: SceneMode, bodies: readonly string[]): void {
    this.mode = mode;
    for (const [body, skin] of this.of) {
      if (bodies.includes(body)) continue;
      skin.dispose();
      this.of.delete(body);
    }
  }

  painted(body: string, { colour, gloss, stale }: Paint): Skin {
    const skin = this.of.get(body) ?? skinMaterial();
    this.of.set(body, skin);
    this.clip(skin);
    drawn(skin, this.mode === "glass" ? "SEE_THROUGH" : this.mode === "wire" ? "FLOW" : null);
    skin.color.set(this.mode === "wire" ? colours.ink : stale ? STALE : (colour ?? colours.body));
    skin.gloss.value = gloss;
    return skin;
  }

  /** Cut them open, or close them again. */
  cut(planes: Plane[]): void {
    this.planes = planes;
    for (const skin of this.of.values()) this.clip(skin);
  }

  dispose(): void {
    for (const skin of this.of.values()) skin.dispose();
    this.of.clear();
  }

  private clip(skin: Skin): void {
    if ((skin.clippingPlanes?.length ?? 0) !== this.planes.length) skin.needsUpdate = true;
    skin.clippingPlanes = this.planes;
  }
}

/** Through the skin its far side is seen too, edges and all; of wire only the flow lines are left. */
function drawn(skin: Skin, look: "SEE_THROUGH" | "FLOW" | null): void {
  const { defines = {} } = skin;
  if (look ? look in defines : !skin.transparent) return; // another program for the graphics card takes a moment
  skin.transparent = look !== null;
  skin.opacity = look === "SEE_THROUGH" ? 0.34 : 1;
  skin.depthWrite = look === null;
  const others = Object.entries(defines).filter(([name]) => name !== "SEE_THROUGH" && name !== "FLOW");
  skin.defines = Object.fromEntries(look ? [...others, [look, ""]] : others);
  skin.needsUpdate = true;
}
