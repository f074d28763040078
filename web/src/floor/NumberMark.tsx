import Box from "@mui/material/Box";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { usePlace } from "./context";

/** The number of a section, as it stands in lists, in the scene and on the Run. */
export function NumberMark({ number, step }: { number: number; step: string }) {
  const chosen = usePlace((p) => p.selected === step || p.hovered === step);
  return (
    <Box
      component="b"
      sx={{
        ...numbers,
        flex: "none",
        width: 20,
        height: 20,
        borderRadius: "50%",
        border: `1.5px solid ${chosen ? colours.buoy : colours.brass}`,
        color: chosen ? colours.buoyText : colours.ink,
        display: "grid",
        placeItems: "center",
        fontSize: 11,
        fontWeight: 500,
      }}
    >
      {number}
    </Box>
  );
}
