import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { useSnackbar } from "notistack";
import { memo, useRef, useState } from "react";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { keysInWords, matching, useActions, type Action } from "./actions";
import { FIELD } from "./searchField";

/** One field that reaches everything by name. What can't be done now is there too, with what is missing. */
export const SearchField = memo(function SearchField() {
  const all = useActions();
  const { enqueueSnackbar } = useSnackbar();
  const [actions, setActions] = useState<Action[]>([]);
  const [typed, setTyped] = useState("");
  const lit = useRef<Action | null>(null);
  const take = (action: Action) => {
    setTyped("");
    lit.current = null;
    document.getElementById(FIELD)?.blur();
    if (action.why === undefined) action.run();
    else enqueueSnackbar(`${action.name}: ${action.why}`, { preventDuplicate: true });
  };
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
          <Box component="span" sx={option.why === undefined ? {} : { color: colours.inkSoft }}>
            {option.name}
            {(option.why ?? option.says) && (
              <Box component="span" sx={{ display: "block", fontSize: 12, color: colours.inkSoft }}>
                {option.why ?? option.says}
              </Box>
            )}
          </Box>
          {option.keys && (
            <Box component="kbd" sx={{ ...numbers, ml: "auto", color: colours.inkSoft, fontSize: 12 }}>
              {keysInWords(option.keys)}
            </Box>
          )}
        </Box>
      )}
      slotProps={{ popper: { sx: { minWidth: 320 } } }}
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
});
