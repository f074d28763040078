import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { NameField } from "../app/NameField";
import { FindingCard } from "../sheet/FindingCard";
import { NumberField } from "../sheet/NumberField";
import { useDocument, useFindings, useFloor } from "./context";
import { Sign } from "../app/Sign";

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
        <Typography variant="h3" component="h2" sx={{ mr: "auto" }}>
          Dimensions
        </Typography>
        <Button variant="text" onClick={add} aria-label="Add a dimension">
          Add
        </Button>
      </Box>
      {dimensions.map((dimension) => (
        <Box
          key={dimension.name}
          sx={{ mb: 0.75, display: "grid", gridTemplateColumns: "1fr 128px 24px", gap: 0.5, alignItems: "center" }}
        >
          <NameField
            size={14}
            label={`Name of ${dimension.name}`}
            value={dimension.name}
            onKeep={(to) => void change([{ do: "rename-dimension", name: dimension.name, to }])}
          />
          <NumberField
            hideLabel
            label={dimension.name}
            kind={dimension.kind === "number" ? "count" : dimension.kind}
            value={dimension.value}
            onKeep={(value) => change([{ do: "set-dimension", name: dimension.name, value, kind: dimension.kind }])}
          />
          <IconButton
            size="small"
            aria-label={`Remove ${dimension.name}`}
            onClick={() => void change([{ do: "remove-dimension", name: dimension.name }])}
          >
            <Sign of="remove" />
          </IconButton>
        </Box>
      ))}
      {findings.map((finding) => (
        <FindingCard key={finding.title} finding={finding} />
      ))}
    </Box>
  );
}
