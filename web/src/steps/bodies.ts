import type { Step } from "../api/types";
import type { Picking } from "../model/place";
import type { Choice, Scope } from "./kind";

/** The body that a step names as the one it is about. */
export const bodyIn = (step: Step): string => (step.params["body"] as { step?: string } | undefined)?.step ?? "";

/** How many parts of a body are copies of others. */
export function copiesIn(status: { summary?: { result?: string; copies?: number } | null } | undefined): number {
  return status?.summary?.result === "body" ? (status.summary.copies ?? 0) : 0;
}

/** What is done to a body with copies is done to all of them, unless it is said otherwise. */
export const onCopies = (status: Parameters<typeof copiesIn>[0]): { copies?: true } =>
  copiesIn(status) ? { copies: true } : {};

/** Something done to the body that is meant. */
export function toBody(
  { body, keep, name }: Scope,
  kind: string,
  words: { title: (body: string) => string; name: string; keys: string; alike: string; apart?: boolean },
  params: (body: Step) => Record<string, unknown>,
): Choice {
  return {
    verb: "Finish",
    title: words.title(body?.name ?? "a body"),
    disabled: body ? undefined : "needs a body",
    keys: words.keys,
    alike: words.alike,
    ...(words.apart ? { apart: true } : {}),
    act: async () => {
      if (body)
        await keep([
          { do: "add-step", kind, name: name(words.name), params: { body: { step: body.id }, ...params(body) } },
        ]);
    },
  };
}

/** After a step of that kind was made, what it stands on is picked: one thing, or several, each taken in or out by a click. */
export function pickFor(floor: Scope["floor"], kind: string, asks: Omit<Picking, "step" | "many">, many = true): void {
  const { place } = floor;
  const made = place.getState().selected;
  if (made?.startsWith(`${kind}-`)) place.setState({ picking: { step: made, many, ...asks } });
}

/** A choice after which that is picked. */
export const thenPicking = (
  choice: Choice,
  { floor }: Scope,
  kind: string,
  asks: Parameters<typeof pickFor>[2],
  many = true,
): Choice => ({
  ...choice,
  act: async () => {
    await choice.act();
    pickFor(floor, kind, asks, many);
  },
});
