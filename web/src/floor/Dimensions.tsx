import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { FindingCard } from "../sheet/FindingCard";
import { NumberField } from "../sheet/NumberField";
import { useDocument, useFindings, useFloor } from "./context";

/** The named dimensions: change one and everything that uses it follows. */
export function Dimensions() {
  const { change } = useFloor();
  const { dimensions } = useDocument();
  const findings = useFindings(null);
  const add = () => {
    const taken = new Set(dimensions.map((dimension) => dimension.name));
    let number = 1;
    while (taken.has(`size${number}`)) number++;
    void change([{ do: "set-dimension", name: `size${number}`, value: 10, kind: "length" }]);
  };
  return (
    <Box component="section" aria-label="Dimensions" sx={{ px: 1.75, pt: 2 }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 0.5 }}>
        <Typography variant="body2" color="text.secondary" component="h2" sx={{ fontWeight: 600, mr: "auto" }}>
          Dimensions
        </Typography>
        <Button variant="text" onClick={add} aria-label="Add a dimension">
          Add
        </Button>
      </Box>
      {dimensions.map((dimension) => (
        <Box key={dimension.name} sx={{ mb: 0.75 }}>
          <NumberField
            label={dimension.name}
            kind={dimension.kind === "number" ? "count" : dimension.kind}
            value={dimension.value}
            onKeep={(value) => change([{ do: "set-dimension", name: dimension.name, value, kind: dimension.kind }])}
          />
        </Box>
      ))}
      {findings.map((finding) => (
        <FindingCard key={finding.title} finding={finding} />
      ))}
    </Box>
  );
}
