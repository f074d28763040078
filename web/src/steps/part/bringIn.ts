import { api } from "../../api/client";
import { pickFile } from "../../app/pickFile";
import type { FloorContext } from "../../floor/context";

/** Let the designer choose a file with bodies in it, and bring them in, or one of them in place of what a step has. */
export async function bringIn(floor: FloorContext, use: "work" | "reference", instead?: string): Promise<void> {
  const file = await pickFile(use === "work" ? ".step,.stp" : ".step,.stp,.stl");
  if (file) await floor.cut((base, design) => api.addPart(design, base, file.name, use, file, instead));
}
