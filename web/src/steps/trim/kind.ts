import type { Step } from "../../api/types";
import { bodyIn, thenPicking } from "../bodies";
import type { Kind, Scope, Way } from "../kind";
import { gives } from "../registry";

interface By {
  type?: string;
  station?: { step: string };
  body?: { step: string };
  rail?: { step: string };
}

const byOf = (step: Step) => (step.params["by"] ?? {}) as By;
const namedIn = ({ station, body, rail }: By): string => (station ?? body ?? rail)?.step ?? "";
const KEPT: Record<string, string> = {
  picked: ", one part kept",
  both: ", both sides kept",
  back: ", the far side kept",
};

const WAYS: Way[] = [
  {
    value: "station",
    title: "A station",
    start: ({ earlier }) => ({ type: "station", station: { step: earlier("station").at(-1)?.id ?? "" } }),
  },
  {
    value: "body",
    title: "A sheet or body",
    start: ({ step, earlier }) => ({
      type: "body",
      body: {
        step:
          earlier("body")
            .filter(({ id }) => id !== bodyIn(step))
            .at(-1)?.id ?? "",
      },
    }),
  },
  {
    value: "rail",
    title: "A rail",
    start: ({ earlier }) => ({ type: "rail", rail: { step: earlier("rail").at(-1)?.id ?? "" } }),
  },
];

export const kind: Kind = {
  name: "trim",
  title: "Trim",
  result: "body",
  words: (step, _, names) =>
    `${names(bodyIn(step))} parted by ${names(namedIn(byOf(step)))}${KEPT[String(step.params["keep"])] ?? ""}`,
  leave: () => ["keep", "place"],
  choices: (scope) => [thenPicking(trim(scope), scope, "trim", { path: ["place"], what: "spot" }, false)],
  ways: { by: WAYS },
};

/** By what is selected, where that can part the body; else by another sheet that stands, a station, or a rail. */
function trim({ document, outline, statuses, selected, body, keep, name }: Scope) {
  const sheet = (step: Step) => {
    const summary = statuses[step.id]?.summary;
    return summary?.result === "body" && !summary.closed;
  };
  const base = selected && body && gives(selected, "body") ? body : outline.standing[0];
  const others = outline.standing.filter((step) => step.id !== base?.id);
  const last = (what: "station" | "rail") => document.steps.filter((step) => gives(step, what)).at(-1);
  const chosen =
    selected && (gives(selected, "station") || gives(selected, "rail"))
      ? selected
      : (others.filter(sheet).at(-1) ?? last("station") ?? last("rail"));
  const what = chosen && (gives(chosen, "station") ? "station" : gives(chosen, "rail") ? "rail" : "body");
  const ready = base && chosen && what;
  return {
    verb: "Finish" as const,
    title: ready ? `Trim ${base.name} by ${chosen.name}` : "Trim a body or a sheet",
    disabled: base ? (ready ? undefined : "needs a station, a sheet or a rail") : "needs a body",
    keys: "f t",
    alike: "split cut part divide slice plane surface halve keep side",
    apart: true,
    act: () =>
      keep([
        {
          do: "add-step",
          kind: "trim",
          name: name("Trimmed"),
          params: {
            body: { step: base?.id ?? "" },
            by: { type: what ?? "station", [what ?? "station"]: { step: chosen?.id ?? "" } },
            keep: "picked",
          },
        },
      ]),
  };
}
