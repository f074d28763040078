import { BOXES } from "./boxes";
import { FREE, LINES } from "./chains";
import { CHANGES, SCALE_PICTURE } from "./changes";
import { ROUNDS } from "./rounds";
import type { Tool } from "./tool";

/** All that draw, then all that change, as they stand in the column. */
export const TOOLS: readonly Tool[] = [...LINES, ...ROUNDS, ...BOXES, ...FREE, ...CHANGES];
export { SCALE_PICTURE };

export const toolOf = (id: string | null): Tool | null => [...TOOLS, SCALE_PICTURE].find((t) => t.id === id) ?? null;
export { fieldsOf, lasting, placedBy, PLACE, type Tool, type ToolField } from "./tool";
