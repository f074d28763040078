import { useSnackbar } from "notistack";
import { useCallback } from "react";
import { problemOf } from "../api/problems";

/** Says what went wrong, in the server's own words. */
export function useProblem(): (error: unknown) => void {
  const { enqueueSnackbar } = useSnackbar();
  return useCallback(
    (error: unknown) => {
      const { title, detail } = problemOf(error);
      enqueueSnackbar(`${title}. ${detail}`, { variant: "warning", preventDuplicate: true });
    },
    [enqueueSnackbar],
  );
}
