import type { DesignDocument, Edit, Step, StepStatus } from "../api/types";
import type { Built } from "../api/built";
import { makerOf, namedIn, outlineOf, type BodyGroup, type DesignOutline } from "../model/outline";
import { allKinds, gives } from "../steps/registry";
import type { Choice, Into, Makes, Scope } from "../steps/kind";
import type { FloorContext } from "./context";

/** What every kind of step can do as things stand. What is done while a change is on its way to be kept is made of what that change leaves. */
export function choicesOf(
  floor: FloorContext,
  document: DesignDocument,
  outline: DesignOutline,
  statuses: Built["steps"],
): Choice[] {
  return offered(floor, document, outline, statuses).map((choice) => ({
    ...choice,
    act: async () => {
      const now = await floor.kept();
      return (now && now.document !== document ? (againIn(now.document, floor, choice) ?? choice) : choice).act();
    },
  }));
}

/** The same choice in a document that was kept since it was offered. */
function againIn(document: DesignDocument, floor: FloorContext, { verb, title }: Choice): Choice | undefined {
  const { steps, standing } = floor.live.built.getState();
  const choices = offered(floor, document, outlineOf(document, steps, standing), steps);
  return choices.find((other) => other.verb === verb && other.title === title && other.disabled === undefined);
}

function offered(
  floor: FloorContext,
  document: DesignDocument,
  outline: DesignOutline,
  statuses: Built["steps"],
): Choice[] {
  const scope = scopeOf(floor, document, outline, statuses);
  const order = [
    "station",
    "section",
    "rail",
    "loft",
    "extrude",
    "revolve",
    "sweep",
    "tube",
    "between",
    "turn",
    "bridge",
    "fillet",
    "chamfer",
    "wall",
    "band",
    "dome",
    "combine",
    "trim",
    "sew",
    "patch",
    "offset",
    "extend",
    "measure",
    "picture",
    "part",
    "reference",
  ];
  const rank = (name: string) => (order.includes(name) ? order.indexOf(name) : order.length);
  return allKinds()
    .toSorted((a, b) => rank(a.name) - rank(b.name))
    .flatMap((kind) => kind.choices?.(scope) ?? []);
}

export function scopeOf(
  floor: FloorContext,
  document: DesignDocument,
  outline: DesignOutline,
  statuses: Built["steps"],
): Scope {
  const { place, change } = floor;
  const selected = document.steps.find((step) => step.id === place.getState().selected);
  const found = makerOf(outline, selected?.id ?? null);
  const chosen = place.getState().into;
  const into = intoOf(outline, selected, chosen);
  const group = into === "apart" ? undefined : outline.groups.find((g) => g.body.id === into.body);
  const { latest, told } = underWay(document, statuses);
  const standing = [...new Set(outline.standing.map(latest))];
  const stood = found ? latest(found.group.body) : standing.at(-1);
  const names = new Set(document.steps.map((step) => step.name));
  return {
    floor,
    document,
    outline: { ...outline, standing },
    statuses: told,
    selected,
    body: stood && gives(stood, "body") ? stood : undefined,
    group,
    stands: group ? rowStands(group) : outline.loose,
    into,
    makes: makesOf(outline, place.getState().makes),
    name: (word) => {
      for (let number = 1; ; number++) if (!names.has(`${word} ${number}`)) return `${word} ${number}`;
    },
    keep: async (edits: Edit[], board = false) => {
      const kept = await change(edits);
      const made = newest(kept?.document.steps ?? [], new Set(document.steps.map((step) => step.id)));
      // a body that was put somewhere is made; the next one stays apart again
      if (made) {
        const done = gives(made, "body") ? { makes: { type: "new" } as Makes, into: null } : {};
        place.setState({
          selected: made.id,
          fresh: made.id,
          picking: null,
          ...(board ? { board: made.id } : {}),
          ...done,
        });
      }
    },
  };
}

const UNTOLD: Omit<StepStatus, "id" | "changes"> = {
  state: "working",
  key: "",
  ms: 0,
  mesh: null,
  last_good: null,
  summary: null,
  findings: [],
  values: {},
  rough: false,
  uses: [],
};

/** The bodies that a step which was made just now is going to use up. */
function takenBy({ params, ...step }: Step): string[] {
  const { body, others, tools } = params;
  return gives({ params, ...step }, "body") ? namedIn([body, others, tools]) : [];
}

/**
 * What is being worked on now: what is done next is done to that, not to the body it is made from.
 * latest: of a body, the last step that works on it; told: with what is known of the body in place of what is not known of its next state.
 */
function underWay({ steps }: DesignDocument, statuses: Built["steps"]) {
  const next = new Map<string, Step>();
  const told: Record<string, StepStatus> = { ...statuses };
  for (const step of steps) {
    // of what was made just now nothing has been told yet
    const status = told[step.id] ?? { ...UNTOLD, id: step.id, changes: takenBy(step) };
    if (status.state !== "working") continue;
    for (const before of status.changes ?? []) next.set(before, step);
    told[step.id] = { ...status, summary: status.summary ?? told[status.changes?.[0] ?? ""]?.summary ?? null };
  }
  const latest = (step: Step): Step => {
    const after = next.get(step.id);
    return after ? latest(after) : step;
  };
  return { latest, told };
}

/** The sections beside which a further one goes. */
const rowStands = (group: BodyGroup) => group.makers.find((maker) => maker.step.id === group.row?.id)?.stands ?? [];

/** The last made of the steps that were not there before. */
function newest(steps: readonly Step[], before: ReadonlySet<string>): Step | undefined {
  const serial = (id: string): number => Number(id.slice(id.lastIndexOf("-") + 1));
  return steps
    .filter((step) => !before.has(step.id))
    .toSorted((a, b) => serial(a.id) - serial(b.id))
    .at(-1);
}

/** Where a new section goes: as was chosen, else into the body that is worked on; beside free sections where there are some. */
export function intoOf(outline: DesignOutline, selected: Step | undefined, chosen: Into | null): Into {
  if (chosen === "apart") return chosen;
  if (chosen && outline.groups.some((g) => g.body.id === chosen.body && g.row)) return chosen;
  const here = makerOf(outline, selected?.id ?? null)?.group;
  if (here?.row && !outline.loose.length) return { body: here.body.id };
  const last = outline.groups.filter((g) => g.row).at(-1);
  return outline.loose.length || !last ? "apart" : { body: last.body.id };
}

/** What becomes of a new body: as was chosen, as long as the body that it meets stands. */
export function makesOf(outline: DesignOutline, chosen: Makes): Makes {
  if (chosen.type !== "new" && !outline.standing.some((step) => step.id === chosen.body)) return { type: "new" };
  return chosen;
}
