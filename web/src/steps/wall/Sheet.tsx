import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { Step } from "../../api/types";
import { Sign } from "../../app/Sign";
import { useFloor, useStatus } from "../../floor/context";
import type { Reference } from "../../picking/answer";
import { DrawnChoice } from "../../sheet/DrawnChoice";
import { ParamField, SchemaFields } from "../../sheet/SchemaForm";
import type { Schema } from "../../sheet/schema";
import type { WayDrawn } from "../../sheet/wayDrawn";
import { bodyIn, copiesIn } from "../bodies";

const LIES: WayDrawn[] = [
  {
    value: "inwards",
    word: "Inside",
    tells: "Inside of what was shaped, which keeps its outside",
    path: "M12 4V26H32V4",
    ink: "M9 4V29H35V4",
  },
  {
    value: "outwards",
    word: "Outside",
    tells: "Outside of what was shaped, which is the room inside",
    path: "M8 4V28H36V4",
    ink: "M12 4V24H32V4",
  },
  {
    value: "middle",
    word: "Half and half",
    tells: "Half on either side of what was shaped",
    path: "M8 4V28H36V4 M14 4V22H30V4",
    ink: "M11 4V25H33V4",
  },
];

const GROWS: WayDrawn[] = [
  {
    value: "inwards",
    word: "Behind",
    tells: "Behind the sheet, where its back looks to",
    path: "M4 10C16 2 28 2 40 10",
    ink: "M4 18C16 10 28 10 40 18V10M4 10V18",
  },
  {
    value: "outwards",
    word: "In front",
    tells: "In front of the sheet, where its face looks to",
    path: "M4 22C16 14 28 14 40 22",
    ink: "M4 14C16 6 28 6 40 14V22M4 22V14",
  },
  {
    value: "middle",
    word: "Half and half",
    tells: "Half on either side of the sheet",
    path: "M4 16C16 8 28 8 40 16",
    ink: "M4 12C16 4 28 4 40 12V20C28 12 16 12 4 20Z",
  },
];

/** How thick the wall is and where it lies, which faces it leaves open, and which are thicker or thinner than the others. */
export function Sheet({ step }: { step: Step }) {
  const status = useStatus(bodyIn(step));
  const summary = status?.summary;
  // of a sheet no face can stay open
  const sheet = summary?.result === "body" && !summary.closed;
  return (
    <>
      <ParamField step={step} name="thickness" />
      {!sheet && <ParamField step={step} name="open" />}
      {!sheet && (copiesIn(status) > 0 || Boolean(step.params["copies"])) && <ParamField step={step} name="copies" />}
      <DrawnChoice step={step} path="way" title={sheet ? "It grows" : "The wall lies"} ways={sheet ? GROWS : LIES} />
      {!sheet && <OwnThickness step={step} />}
      <ParamField step={step} name="body" />
    </>
  );
}

interface Own {
  face: Reference;
  thickness: number | string;
}

/** Faces behind which the wall has a thickness of its own. */
function OwnThickness({ step }: { step: Step }) {
  const { change, place } = useFloor();
  const { data: kinds } = useQuery(queries.kinds());
  const root = kinds?.find((kind) => kind.name === step.kind)?.params as Schema | undefined;
  const own = (step.params["own"] ?? []) as Own[];
  const body = step.params["body"] as Reference;
  if (!root) return null;
  const keep = (next: Own[]) => change([{ do: "set-param", step: step.id, path: ["own"], value: next }]);
  const add = async () => {
    await keep([...own, { face: { step: body.step }, thickness: (step.params["thickness"] ?? 2) as number }]);
    place.setState({ picking: { step: step.id, path: ["own", own.length, "face"], what: "face", many: false } });
  };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 1 }}>
      {own.map((_, i) => (
        <Box
          key={i}
          role="group"
          aria-label={`Face ${i + 1} with its own thickness`}
          sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) 24px", gap: 0.5, alignItems: "center" }}
        >
          <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 0.5 }}>
            <SchemaFields
              step={step}
              path={["own", i]}
              of="#/$defs/FaceThickness"
              root={root}
              value={own[i] as object}
            />
          </Box>
          <IconButton
            size="small"
            aria-label={`Face ${i + 1} like the others`}
            onClick={() => void keep(own.filter((_, k) => k !== i))}
          >
            <Sign of="remove" />
          </IconButton>
        </Box>
      ))}
      <Button variant="text" onClick={() => void add()} sx={{ justifySelf: "start" }}>
        A face with its own thickness
      </Button>
    </Box>
  );
}
