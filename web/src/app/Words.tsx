import Box from "@mui/material/Box";
import { styled } from "@mui/material/styles";
import { MaterialDesignContent, SnackbarProvider } from "notistack";
import { Sign } from "./Sign";
import { colours } from "../theme/colours";

/** Words that come and go, on paper and in ink like everything else. */
const Slip = styled(MaterialDesignContent)({
  "&.notistack-MuiContent": {
    maxWidth: 560,
    padding: "4px 14px",
    fontSize: 14,
    lineHeight: 1.45,
    color: colours.ink,
    backgroundColor: colours.panel,
    border: `1px solid ${colours.hairline}`,
    borderRadius: 6,
    boxShadow: "0 4px 14px rgb(34 49 58 / 14%)",
  },
  "&.notistack-MuiContent-warning": { backgroundColor: colours.amberWash, borderColor: colours.amberLine },
});

const TRIANGLE = (
  <Box component="span" sx={{ color: colours.amber, mr: 1 }}>
    <Sign of="error" />
  </Box>
);

/** Shows them below the line at the top, whose undo stays within reach. */
export function Words({ children }: { children: React.ReactNode }) {
  return (
    <SnackbarProvider
      maxSnack={3}
      autoHideDuration={6000}
      anchorOrigin={{ vertical: "top", horizontal: "center" }}
      style={{ marginTop: 40 }}
      iconVariant={{ warning: TRIANGLE }}
      Components={{ default: Slip, success: Slip, warning: Slip, error: Slip, info: Slip }}
    >
      {children}
    </SnackbarProvider>
  );
}
