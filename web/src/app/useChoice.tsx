import Button from "@mui/material/Button";
import { useSnackbar, type SnackbarKey } from "notistack";
import { useCallback } from "react";
import type { Problem } from "../api/types";

/** Somebody else was first: whether to make the change all the same, on top of theirs. Nothing happens until one is chosen. */
export function useChoice(): (problem: Problem) => Promise<boolean> {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  return useCallback(
    (problem: Problem) =>
      new Promise<boolean>((chosen) => {
        const take = (key: SnackbarKey, yes: boolean) => () => {
          closeSnackbar(key);
          chosen(yes);
        };
        enqueueSnackbar(`${problem.title}. Their change is on screen now; yours is still here.`, {
          variant: "warning",
          persist: true,
          action: (key) => (
            <>
              <Button color="inherit" onClick={take(key, true)}>
                Make mine too
              </Button>
              <Button color="inherit" onClick={take(key, false)}>
                Drop mine
              </Button>
            </>
          ),
        });
      }),
    [enqueueSnackbar, closeSnackbar],
  );
}
