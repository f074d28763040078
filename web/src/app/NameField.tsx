import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import { colours } from "../theme/colours";

interface Props {
  label: string;
  value: string;
  onKeep: (name: string) => void;
  size: number;
  /** As wide as its text, not as its place. */
  snug?: boolean;
}

/** A name that is edited where it stands. Enter or leaving keeps it, Esc puts it back. */
export function NameField({ label, value, onKeep, size, snug = false }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const text = draft ?? value;
  const keep = () => {
    const wanted = text.trim();
    if (wanted && wanted !== value) onKeep(wanted);
    setDraft(null);
  };
  return (
    <InputBase
      fullWidth={!snug}
      value={text}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
        if (event.key === "Escape") {
          event.stopPropagation();
          setDraft(null);
        }
      }}
      inputProps={{ "aria-label": label, maxLength: 80, ...(snug ? { size: Math.max(text.length, 6) } : {}) }}
      sx={{
        fontSize: size,
        fontWeight: 600,
        borderRadius: 1,
        px: 0.75,
        ml: -0.75,
        "&:hover, &:focus-within": { bgcolor: colours.paper },
      }}
    />
  );
}
