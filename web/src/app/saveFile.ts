import type { Download } from "../api/client";

/** Hands a file to the browser to keep. */
export function saveFile({ name, data }: Download): void {
  const address = URL.createObjectURL(data);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
