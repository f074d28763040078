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

/** Around whatever the keyboard is at. */
const FOCUS = { outline: `2px solid ${colours.estuary}`, outlineOffset: 1, zIndex: 1 } as const;

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
    button: { textTransform: "none", fontWeight: 500, fontSize: 14, letterSpacing: "0.005em" },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        // outlines as they are drawn: hinted to whole pixels the dot of an i falls on its stem
        "html, body, #root": { height: "100%", margin: 0, textRendering: "geometricPrecision" },
        "button, input": { fontFamily: "inherit" },
        ":focus-visible": FOCUS,
        "@media (prefers-reduced-motion: reduce)": {
          "*, *::before, *::after": { animationDuration: "0.01ms !important", transitionDuration: "0.01ms !important" },
        },
        // where the colours are those of the system, what is chosen is told by its outline
        "@media (forced-colors: active)": {
          '[aria-pressed="true"], [aria-selected="true"], [aria-checked="true"]': { outline: "2px solid Highlight" },
        },
      },
    },
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: {
        root: { minWidth: 0, padding: "3px 11px", lineHeight: 1.6 },
        // smaller than this the dot of an i and its stem are one
        sizeSmall: { fontSize: 14 },
        outlined: { borderColor: colours.hairline, color: colours.ink, backgroundColor: colours.panel },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      // it would take its outline away, and its ripple, which told of the focus, is not wanted
      styleOverrides: { root: { fontFamily: "inherit", "&.Mui-focusVisible": FOCUS } },
    },
    MuiSlider: { styleOverrides: { thumb: { "&.Mui-focusVisible": FOCUS } } },
    MuiPaper: { defaultProps: { elevation: 0 } },
    MuiTooltip: {
      // it tells, and is never in the way of what lies under it
      defaultProps: { enterDelay: 500, disableInteractive: true },
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
