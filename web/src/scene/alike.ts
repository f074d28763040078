/** Whether two things to be shown say the same, down to their numbers: what says the same is not drawn again. */
export function alike(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return false;
  if (Array.isArray(a) || ArrayBuffer.isView(a)) return alikeRows(a as ArrayLike<unknown>, b as ArrayLike<unknown>);
  const [ours, theirs] = [Object.entries(a), b as Record<string, unknown>];
  return ours.length === Object.keys(b).length && ours.every(([key, value]) => alike(value, theirs[key]));
}

function alikeRows(a: ArrayLike<unknown>, b: ArrayLike<unknown>): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (!alike(a[i], b[i])) return false;
  return true;
}
