import { useCallback, useRef, useState } from "react";
import type { Edit, Step } from "../api/types";
import { useEscape } from "../app/useEscape";
import { useBuilt, useFloor, useHead } from "../floor/context";
import { handlesOf, withHandle, type Handle, type Law, type LawName } from "../model/laws";

/** What a lane can do with its law: drag a handle with the body following, keep another law. Esc during a drag puts it back. */
export function useLawDrag(body: Step, name: LawName) {
  const { live, change } = useFloor();
  const { design } = useHead();
  const values = useBuilt((built) => built.steps[body.id]?.values);
  const kept = (body.params[name] ?? null) as Law | null;
  const [held, setHeld] = useState<{ index: number; law: Law } | null>(null);
  const before = useRef<Handle[]>([]);
  const law = held?.law ?? kept;
  const handles = handlesOf(law, (path) => values?.[`${name}.${path}`]);

  const edit = (value: Law | null): Edit[] => [{ do: "set-param", step: body.id, path: [name], value }];
  const keep = (value: Law | null) => change(edit(value));

  const start = (index: number) => {
    if (!kept) return;
    before.current = handles;
    setHeld({ index, law: kept });
  };
  const move = (at: number, value: number) => {
    if (!held) return;
    const next = withHandle(held.law, before.current, held.index, at, value);
    setHeld({ index: held.index, law: next });
    live.preview(design, edit(next));
  };
  const release = () => {
    if (!held) return;
    if (held.law === kept) {
      setHeld(null);
      return;
    }
    void keep(held.law).then((done) => {
      if (done === null) live.preview(design, []);
      setHeld(null);
    });
  };
  const cancel = useCallback(() => {
    if (!held) return false;
    setHeld(null);
    live.preview(design, []);
    return true;
  }, [held, live, design]);

  useEscape(cancel);

  return { law, handles, held: held?.index ?? null, start, move, release, keep };
}
