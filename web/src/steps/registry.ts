import type { ComponentType } from "react";
import type { Step } from "../api/types";
import { later, type Later } from "../app/later";
import type { Kind, Result } from "./kind";

/** Every folder here is a kind of step: kind.ts says what it is, Sheet.tsx, where there is one, shows what its schema does not. */
const modules = import.meta.glob<{ kind: Kind }>("./*/kind.ts", { eager: true });
const sheets = import.meta.glob<{ Sheet: ComponentType<{ step: Step }> }>("./*/Sheet.tsx");

const kinds = new Map(Object.values(modules).map(({ kind }) => [kind.name, kind]));
const ownSheets = new Map<string, Later<{ step: Step }>>();
for (const [path, load] of Object.entries(sheets)) {
  const kind = modules[path.replace("Sheet.tsx", "kind.ts")]?.kind;
  if (kind)
    ownSheets.set(
      kind.name,
      later(async () => (await load()).Sheet),
    );
}

/** Fetches every sheet before it is wanted: it may be while the server is away. */
export const fetchSheets = (): Promise<unknown> =>
  Promise.allSettled([...ownSheets.values()].map((sheet) => sheet.fetch()));

export const allKinds = (): Kind[] => [...kinds.values()];

/** A kind that this page does not know yet still shows its name and its numbers. */
export function kindOf(step: Step): Kind {
  return kinds.get(step.kind) ?? { name: step.kind, title: step.kind, result: "body", words: () => step.kind };
}

export const sheetOf = (step: Step) => ownSheets.get(step.kind);

export const gives = (step: Step, result: Result): boolean => kindOf(step).result === result;
