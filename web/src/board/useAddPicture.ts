import { api } from "../api/client";
import { pickFile } from "../app/pickFile";
import { useDocument, useFloor } from "../floor/context";

/** Choose a PNG or JPEG and lay it on a station. */
export function useAddPicture(): (station: string) => Promise<void> {
  const { cut } = useFloor();
  const { steps } = useDocument();
  const name = `Picture ${steps.filter((step) => step.kind === "picture").length + 1}`;
  return async (station) => {
    const file = await pickFile("image/png,image/jpeg");
    if (file) await cut((base, design) => api.addPicture(design, base, station, name, file));
  };
}
