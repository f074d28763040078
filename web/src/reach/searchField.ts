/** The field that reaches everything by name: one on each page. */
export const FIELD = "reach";

export const focusSearch = (): void => document.getElementById(FIELD)?.focus();
