import Button, { type ButtonProps } from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import { memo, useMemo } from "react";
import { colours } from "../theme/colours";
import { keysInWords, useActions } from "./actions";

const CHOSEN = { bgcolor: colours.estuaryWash, "&:hover": { bgcolor: colours.estuaryWash } };

type Props = { of: string; told?: "bottom" | "right" } & ButtonProps;

/**
 * The button of an action: what it is called, its keys, and what is missing where it can't be done now are those of the list. It is drawn anew
 * when the list says something else of it, not with whatever is round it.
 */
export const ActionButton = memo(function ActionButton(props: Props) {
  const all = useActions();
  const action = all().find(({ name }) => name === props.of);
  const hint =
    action && [action.why ?? action.says, action.keys && keysInWords(action.keys)].filter(Boolean).join(" · ");
  const title = action && (action.title ?? action.name);
  const able = action?.why === undefined;
  const on = action?.on;
  return useMemo(() => {
    if (title === undefined) return null;
    const { of, variant = "outlined", sx = {}, told = "bottom", ...rest } = props;
    const button = (
      <Button
        variant={variant}
        disabled={!able}
        // what it does is looked up when it is pressed: the selection may be another by then
        onClick={() =>
          all()
            .find(({ name }) => name === of)
            ?.run()
        }
        {...(on === undefined ? {} : { "aria-pressed": on })}
        sx={[on ? CHOSEN : {}, ...(Array.isArray(sx) ? sx : [sx])]}
        {...rest}
      >
        {title}
      </Button>
    );
    // what is disabled hears of no pointer: what stands round it does
    return (
      <Tooltip title={hint} describeChild placement={told}>
        {able ? button : <span style={{ display: "inline-flex" }}>{button}</span>}
      </Tooltip>
    );
  }, [all, props, title, hint, able, on]);
});
