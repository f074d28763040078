import Box from "@mui/material/Box";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";

/** A short list of names and numbers that are read, not edited. */
export function Facts({ facts }: { facts: [name: string, value: string][] }) {
  return (
    <Box component="dl" sx={{ m: 0, borderTop: `1px solid ${colours.hairline}` }}>
      {facts.map(([name, value]) => (
        <Box
          key={name}
          sx={{
            display: "flex",
            justifyContent: "space-between",
            py: 0.6,
            borderBottom: `1px solid ${colours.hairline}`,
            fontSize: 14,
          }}
        >
          <dt>{name}</dt>
          <Box component="dd" sx={{ ...numbers, m: 0 }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
