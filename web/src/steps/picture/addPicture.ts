import { gives } from "../registry";
import { api } from "../../api/client";
import { pickFile } from "../../app/pickFile";
import type { FloorContext } from "../../floor/context";
import type { Step } from "../../api/types";

/** Let the designer choose a PNG or JPEG and lay it on a station. */
export async function addPicture(cut: FloorContext["cut"], steps: readonly Step[], station: string): Promise<void> {
  const file = await pickFile("image/png,image/jpeg");
  const name = `Picture ${steps.filter((step) => gives(step, "picture")).length + 1}`;
  if (file) await cut((base, design) => api.addPicture(design, base, station, name, file));
}
