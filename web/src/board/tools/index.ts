import { BOXES } from "./boxes";
import { FREE, LINES } from "./chains";
import { CHANGES } from "./changes";
import { ROUNDS } from "./rounds";
import type { Tool } from "./tool";

/** All that draw, then all that change, as they stand in the column. */
export const TOOLS: readonly Tool[] = [...LINES, ...ROUNDS, ...BOXES, ...FREE, ...CHANGES];
export { SCALE_PICTURE } from "./changes";
export { fieldsOf, lasting, placedBy, PLACE, type Tool, type ToolField } from "./tool";
