import Box from "@mui/material/Box";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";

interface Props {
  /** By which keys find it. */
  name?: string;
  title: string;
  value: string;
  onChange: (text: string) => void;
  hint?: string;
  wrong?: boolean;
  /** The title stands beside the field, not above it. */
  row?: boolean;
  width?: number | "100%";
  onEnter?: () => void;
}

/** A small field for a number that steers what is drawn; what is typed counts at once. */
export function SmallField({ name, title, value, onChange, hint, wrong, row, width = "100%", onEnter }: Props) {
  return (
    <Box
      component="label"
      sx={
        row
          ? { fontSize: 13, display: "flex", gap: 0.75, alignItems: "center" }
          : { fontSize: 12, display: "grid", color: colours.inkSoft, minWidth: 0 }
      }
    >
      {title}
      <Box
        component="input"
        data-field={name}
        value={value}
        placeholder={hint}
        aria-invalid={wrong}
        onFocus={(event: React.FocusEvent<HTMLInputElement>) => event.target.select()}
        onChange={(event: React.ChangeEvent<HTMLInputElement>) => onChange(event.target.value)}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key !== "Enter" || !onEnter) return;
          event.preventDefault();
          event.stopPropagation();
          onEnter();
        }}
        sx={{
          ...numbers,
          width,
          minWidth: 48,
          boxSizing: "border-box",
          fontSize: 13,
          p: "3px 6px",
          border: `1px solid ${wrong ? colours.brick : colours.hairline}`,
          borderRadius: "4px",
          bgcolor: colours.panel,
        }}
      />
    </Box>
  );
}
