import { lazy, useState, type ComponentType } from "react";

/** A part of the page that is fetched when it is first wanted, or ahead of that. */
export interface Later<P> {
  fetch: () => Promise<unknown>;
  part: () => ComponentType<P>;
}

/** Once it is there it is shown at once: what a boundary had to wait for, if only for an instant, React holds back for a third of a second. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let there: ComponentType<P> | null = null;
  const fetch = async () => (there ??= await load());
  const waited = lazy(async () => ({ default: await fetch() }));
  return { fetch, part: () => there ?? waited };
}

/** The part, the same for as long as it is shown. */
export function usePart<P>(of: Later<P> | undefined): ComponentType<P> | undefined {
  return useState(() => of?.part())[0];
}
