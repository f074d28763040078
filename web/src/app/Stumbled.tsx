import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRouteError } from "react-router";

/** What is shown in place of a page that failed. Nothing is lost by coming back: changes are kept as they are made. */
export function Stumbled() {
  const error = useRouteError();
  const unreached = error instanceof TypeError && /fetch|import/i.test(error.message);
  return (
    <Box
      component="main"
      role="alert"
      sx={{ display: "grid", placeContent: "center", height: "100%", gap: 2, textAlign: "center", px: 3 }}
    >
      <Typography variant="h1">
        {unreached ? "Wander's server does not answer" : "Something went wrong on this page"}
      </Typography>
      <Typography color="text.secondary">
        {unreached
          ? "A part of this page could not be fetched. Start the server again, then come back."
          : `Changes that were kept are kept. It said: ${String(error)}`}
      </Typography>
      <Button variant="contained" sx={{ justifySelf: "center" }} onClick={() => location.reload()}>
        Come back to it
      </Button>
    </Box>
  );
}
