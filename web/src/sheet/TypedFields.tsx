import Typography from "@mui/material/Typography";
import { SmallField } from "./SmallField";
import { wrongIn, type Field, type Texts, type Told } from "./useTyped";

interface Props {
  fields: readonly Field[];
  texts: Texts;
  told: Told;
  onChange: (texts: Texts) => void;
  row?: boolean;
  width?: number | "100%";
  onEnter?: () => void;
}

/** Numbers that are typed for once: with units, arithmetic and names, like those that are kept. What is wrong with one is said beside them. */
export function TypedFields({ fields, texts, told, onChange, row, width, onEnter }: Props) {
  const shown = Object.fromEntries(
    Object.entries(told.now).filter(([name, { text }]) => texts[name] === text && fields.some((f) => f.name === name)),
  );
  const wrong = wrongIn(shown);
  return (
    <>
      {fields.map(({ name, title, hint }) => (
        <SmallField
          key={name}
          name={name}
          title={title}
          value={texts[name] ?? ""}
          wrong={Boolean(shown[name]?.why)}
          onChange={(text) => onChange({ ...texts, [name]: text })}
          {...(hint === undefined ? {} : { hint })}
          {...(row ? { row } : {})}
          {...(width === undefined ? {} : { width })}
          {...(onEnter ? { onEnter } : {})}
        />
      ))}
      {wrong && (
        <Typography role="alert" variant="body2" color="error" sx={{ gridColumn: "1 / -1", fontSize: 12 }}>
          {wrong.why}
        </Typography>
      )}
    </>
  );
}
