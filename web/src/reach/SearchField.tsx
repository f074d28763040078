import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { useEffect, useRef, useState } from "react";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { matching, useActions, type Action } from "./actions";

const FIELD = "reach";

/** One field that reaches everything by name. The slash key comes here from anywhere. */
export function SearchField() {
  const all = useActions();
  const [actions, setActions] = useState<Action[]>([]);
  const [typed, setTyped] = useState("");
  const lit = useRef<Action | null>(null);
  const take = (action: Action) => {
    setTyped("");
    lit.current = null;
    document.getElementById(FIELD)?.blur();
    action.run();
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const busy =
        event.target instanceof HTMLElement && ["INPUT", "TEXTAREA", "SELECT"].includes(event.target.tagName);
      if (event.key !== "/" || busy || event.ctrlKey || event.metaKey) return;
      event.preventDefault();
      document.getElementById(FIELD)?.focus();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  return (
    <Autocomplete<Action, false, false, true>
      id={FIELD}
      freeSolo
      autoHighlight
      clearOnBlur
      value={null}
      inputValue={typed}
      onInputChange={(_, text) => setTyped(text)}
      options={actions}
      filterOptions={(all, { inputValue }) => matching(all, inputValue).slice(0, 12)}
      getOptionLabel={(option) => (typeof option === "string" ? option : option.name)}
      onChange={(_, option) => {
        if (option && typeof option !== "string") take(option);
      }}
      onFocus={() => setActions(all())}
      onHighlightChange={(_, option) => {
        lit.current = option;
      }}
      onKeyDown={(event) => {
        const first = lit.current ?? matching(actions, typed)[0];
        if (event.key !== "Enter" || !typed || !first) return;
        event.preventDefault();
        event.defaultMuiPrevented = true;
        take(first);
      }}
      sx={{ width: 232 }}
      renderOption={({ key, ...props }, option) => (
        <Box component="li" key={key} {...props} sx={{ fontSize: 14, gap: 1 }}>
          <span>{option.name}</span>
          {option.keys && (
            <Box component="kbd" sx={{ ...numbers, ml: "auto", color: colours.inkSoft, fontSize: 12 }}>
              {option.keys}
            </Box>
          )}
        </Box>
      )}
      renderInput={(params) => (
        <TextField
          {...params}
          size="small"
          placeholder="Do anything by name   /"
          sx={{ "& .MuiOutlinedInput-root": { py: "1px !important", fontSize: 13 } }}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, "aria-label": "Search for any action" },
          }}
        />
      )}
    />
  );
}
