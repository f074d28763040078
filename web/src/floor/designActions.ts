import type { LengthUnit } from "../api/types";
import type { Action } from "../reach/actions";
import type { FloorContext, HeadContext } from "./context";

export const UNITS: LengthUnit[] = ["mm", "cm", "in"];

/** What can be done with a design wherever it is open. */
export function designActions(
  { undo, redo, change, place }: FloorContext,
  { design, pending }: HeadContext,
  leave: () => void,
): Action[] {
  return [
    {
      name: "Undo",
      keys: "$mod+z",
      alike: "back",
      says: design.undo ?? "",
      // a change that is still on its way can be taken back: the keys are quicker than the answer
      why: design.undo === null && pending !== "on" ? "this is where the design began" : undefined,
      run: undo,
    },
    {
      name: "Redo",
      keys: "$mod+Shift+z",
      alike: "again forward",
      says: design.redo ?? "",
      why: design.redo === null && pending !== "back" ? "there is nothing further on" : undefined,
      run: redo,
    },
    ...UNITS.map((unit) => ({
      name: `Unit: ${unit}`,
      alike: "millimetres centimetres inches",
      why: design.document.unit === unit ? "it is so already" : undefined,
      run: () => void change([{ do: "set-unit", unit }]),
    })),
    {
      name: "Hand over a file",
      title: "Hand over",
      keys: "h o",
      alike: "export save download step stl 3mf obj glb",
      run: () => place.setState({ open: "hand over" }),
    },
    { name: "To the rack", keys: "g r", alike: "all designs home close", run: leave },
  ];
}
