import { useSnackbar } from "notistack";
import { useCallback, useMemo, useState } from "react";
import { Actions, type Action } from "./actions";
import { KeysDialog } from "./KeysDialog";
import { focusSearch } from "./searchField";
import { useActionKeys } from "./useActionKeys";

/** Everything below can be reached by name and by keys: one list for each page. */
export function Reach({ actions, children }: { actions: () => Action[]; children: React.ReactNode }) {
  const [keys, setKeys] = useState(false);
  const { enqueueSnackbar } = useSnackbar();
  const all = useMemo(
    () =>
      onceForAll((): Action[] => [
        ...actions(),
        { name: "Do anything by name", keys: "[Shift]+/", alike: "search find", run: focusSearch },
        { name: "Show all keys", keys: "[Shift]+?", alike: "help shortcuts keyboard", run: () => setKeys(true) },
      ]),
    [actions],
  );
  const refuse = useCallback(
    (action: Action) => enqueueSnackbar(`${action.name}: ${action.why ?? ""}`, { preventDuplicate: true }),
    [enqueueSnackbar],
  );
  useActionKeys(all, refuse);
  return (
    <Actions value={all}>
      {children}
      {keys && <KeysDialog onClose={() => setKeys(false)} />}
    </Actions>
  );
}

/** All who ask in one go are given the same list: a page has many buttons, and drawing it asks for each. */
function onceForAll<T>(make: () => T): () => T {
  let made: { list: T } | null = null;
  return () => {
    if (!made) {
      made = { list: make() };
      queueMicrotask(() => (made = null));
    }
    return made.list;
  };
}
