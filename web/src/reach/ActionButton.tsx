import Button, { type ButtonProps } from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import { memo } from "react";
import { colours } from "../theme/colours";
import { keysInWords, useActions } from "./actions";

const CHOSEN = { bgcolor: colours.estuaryWash, "&:hover": { bgcolor: colours.estuaryWash } };

/**
 * The button of an action: what it is called, its keys, and what is missing where it can't be done now are those of the list. It is drawn anew
 * with the list, not with whatever is round it.
 */
export const ActionButton = memo(function ActionButton({
  of,
  variant = "outlined",
  sx = {},
  told = "bottom",
  ...rest
}: { of: string; told?: "bottom" | "right" } & ButtonProps) {
  const all = useActions();
  const found = () => all().find(({ name }) => name === of);
  const action = found();
  if (!action) return null;
  const hint = [action.why ?? action.says, action.keys && keysInWords(action.keys)].filter(Boolean).join(" · ");
  const button = (
    <Button
      variant={variant}
      disabled={action.why !== undefined}
      // what it does is looked up when it is pressed: the selection may be another by then
      onClick={() => found()?.run()}
      {...(action.on === undefined ? {} : { "aria-pressed": action.on })}
      sx={[action.on ? CHOSEN : {}, ...(Array.isArray(sx) ? sx : [sx])]}
      {...rest}
    >
      {action.title ?? action.name}
    </Button>
  );
  // what is disabled hears of no pointer: what stands round it does
  return (
    <Tooltip title={hint} describeChild placement={told}>
      {action.why === undefined ? button : <span style={{ display: "inline-flex" }}>{button}</span>}
    </Tooltip>
  );
});
