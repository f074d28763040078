import "@fontsource/barlow/400.css";
import "@fontsource/barlow/500.css";
import "@fontsource/barlow/600.css";
import "@fontsource/spline-sans-mono/400.css";
import "@fontsource/spline-sans-mono/500.css";
import { createTheme } from "@mui/material/styles";
import { colours } from "./colours";

export const numbers = { fontFamily: '"Spline Sans Mono", monospace', fontVariantNumeric: "tabular-nums" } as const;

/** Columns of a label and the field beside it; a field is never wider than its place. */
export const labelled = "minmax(84px, 2fr) minmax(0, 3fr)";

export const theme = createTheme({
  spacing: 8,
  shape: { borderRadius: 6 },
  palette: {
    mode: "light",
    background: { default: colours.paper, paper: colours.panel },
    text: { primary: colours.ink, secondary: colours.inkSoft },
    primary: { main: colours.estuary },
    secondary: { main: colours.brassText },
    warning: { main: colours.amber },
    error: { main: colours.brick },
    divider: colours.hairline,
  },
  typography: {
    fontFamily: "Barlow, sans-serif",
    fontSize: 14,
    h1: { fontSize: 28, fontWeight: 600 },
    h2: { fontSize: 18, fontWeight: 600 },
    h3: { fontSize: 14, fontWeight: 600 },
    body1: { fontSize: 14 },
    body2: { fontSize: 13 },
    button: { textTransform: "none", fontWeight: 600, fontSize: 13 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        "html, body, #root": { height: "100%", margin: 0 },
        "button, input": { fontFamily: "inherit" },
        ":focus-visible": { outline: `2px solid ${colours.estuary}`, outlineOffset: 1 },
      },
    },
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: {
        root: { minWidth: 0, padding: "3px 11px", lineHeight: 1.6 },
        outlined: { borderColor: colours.hairline, color: colours.ink, backgroundColor: colours.panel },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true }, styleOverrides: { root: { fontFamily: "inherit" } } },
    MuiPaper: { defaultProps: { elevation: 0 } },
    MuiTooltip: {
      defaultProps: { enterDelay: 500 },
      styleOverrides: { tooltip: { fontSize: 12, backgroundColor: colours.ink } },
    },
    MuiOutlinedInput: {
      styleOverrides: {
        root: { backgroundColor: colours.panel },
        notchedOutline: { borderColor: colours.hairline },
        input: { padding: "5px 9px" },
      },
    },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 14, minHeight: 32 } } },
  },
});
