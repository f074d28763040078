import type { Plane } from "three";
import type { SceneMode } from "../model/place";
import { colours } from "../theme/colours";
import { skinMaterial, type Skin } from "./materials";

/** How a body is painted: by its finish, or as one that could not be rebuilt. */
export interface Paint {
  colour: string | null;
  gloss: number;
  stale: boolean;
  /** It is there to be looked at: seen through, however the others are drawn. */
  aside?: boolean;
}

const STALE = "#D9D4C8";
const ASIDE = "#9FB4B6";

/** The skins of all bodies on stage, one for each, all drawn the same way. */
export class Skins {
  private readonly of = new Map<string, Skin>();
  private planes: Plane[] = [];
  private mode: SceneMode = "edges";
  /** What has the last colour, from the middle of the scale on. */
  readonly full = { value: 1 };

  /** Draw them all in a mode; only these bodies are there. */
  begin(mode: SceneMode, bodies: readonly string[]): void {
    this.mode = mode;
    for (const [body, skin] of this.of) {
      if (bodies.includes(body)) continue;
      skin.dispose();
      this.of.delete(body);
    }
  }

  /** sheet: it has no inside to be hatched. */
  painted(body: string, { colour, gloss, stale, aside }: Paint, sheet: boolean): Skin {
    const skin = this.of.get(body) ?? skinMaterial(this.full);
    this.of.set(body, skin);
    this.clip(skin);
    drawn(skin, aside ? "SEE_THROUGH" : (LOOKS[this.mode] ?? null));
    const own = aside ? ASIDE : stale ? STALE : (colour ?? colours.body);
    skin.color.set(this.mode === "wire" && !aside ? colours.ink : own);
    skin.gloss.value = gloss;
    skin.hatched.value = sheet || aside ? 0 : 1;
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

type Look = "SEE_THROUGH" | "FLOW" | "STRIPES" | "TOLD";
const LOOKS: Partial<Record<SceneMode, Look>> = {
  glass: "SEE_THROUGH",
  wire: "FLOW",
  stripes: "STRIPES",
  bends: "TOLD",
  lean: "TOLD",
  thickness: "TOLD",
};

/** Through the skin its far side is seen too, edges and all; of wire only the flow lines are left; stripes are what it mirrors, colours what is told of it. */
function drawn(skin: Skin, look: Look | null): void {
  const { defines = {} } = skin;
  const known = Object.values(LOOKS);
  if ((known.find((name) => name in defines) ?? null) === look) return; // another program for the graphics card takes a moment
  const through = look === "SEE_THROUGH" || look === "FLOW";
  skin.transparent = through;
  skin.opacity = look === "SEE_THROUGH" ? 0.34 : 1;
  skin.depthWrite = !through;
  const others = Object.entries(defines).filter(([name]) => !known.some((one) => one === name));
  skin.defines = Object.fromEntries(look ? [...others, [look, ""]] : others);
  skin.needsUpdate = true;
}
