import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { api } from "../api/client";
import type { Profile, Step } from "../api/types";
import { useProblem } from "../app/useProblem";
import { useDocument, useFloor } from "../floor/context";
import { lengthNumber, trimmed } from "../model/units";
import { TypedFields } from "../sheet/TypedFields";
import { useTyped, wrongIn, type Field, type Texts } from "../sheet/useTyped";
import { colours } from "../theme/colours";

const NOTHING: Texts = {};
const profilesQuery = { queryKey: ["profiles"], queryFn: api.profiles };

/** Curves from outside: from a file, which is placed on the sheet, or from the library. */
export function BringIn({
  section,
  onFile,
  onClose,
}: {
  section: Step;
  onFile: (file: File) => void;
  onClose: () => void;
}) {
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="bring-title">
      <DialogTitle id="bring-title" sx={{ fontWeight: 600, pb: 1 }}>
        Bring in
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2.5 }}>
        <FromFile
          onFile={(file) => {
            onClose();
            onFile(file);
          }}
        />
        <FromLibrary section={section} onClose={onClose} />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function FromFile({ onFile }: { onFile: (file: File) => void }) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <Box component="section" aria-label="From a file" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h3">From a file</Typography>
      <Typography variant="body2" color="text.secondary">
        Foil coordinates and lists of points (.dat, .txt, .csv), DXF and SVG. It lies on the sheet before it is taken;
        it can be dropped there, too.
      </Typography>
      <Box>
        <input
          ref={chooser}
          type="file"
          hidden
          data-testid="curve-file"
          accept=".dat,.txt,.csv,.dxf,.svg"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) onFile(file);
          }}
        />
        <Button variant="contained" onClick={() => chooser.current?.click()}>
          Choose a file
        </Button>
      </Box>
    </Box>
  );
}

function FromLibrary({ section, onClose }: { section: Step; onClose: () => void }) {
  const { cut, id } = useFloor();
  const { unit } = useDocument();
  const { data } = useQuery(profilesQuery);
  const cache = useQueryClient();
  const problem = useProblem();
  const [chosen, setChosen] = useState<Profile | null>(null);
  const [texts, setTexts] = useState<Texts>(NOTHING);
  const fields = useMemo(
    (): Field[] =>
      (chosen?.parameters ?? []).map(({ name, title, kind, first }) => ({
        name,
        kind: kind === "length" ? kind : "count",
        title: kind === "length" ? `${title} (${unit})` : title,
        hint: kind === "length" ? lengthNumber(first, unit) : trimmed(first, 4),
      })),
    [chosen, unit],
  );
  const told = useTyped(fields, texts);
  const [name, setName] = useState(section.name);
  const refresh = () => cache.invalidateQueries({ queryKey: profilesQuery.queryKey });
  const begin = async (profile: Profile) => {
    const typed = await told(texts);
    if (wrongIn(typed)) return;
    const values = Object.fromEntries(Object.entries(typed).map(([name, { worth }]) => [name, worth ?? 0]));
    const wanted = { name: profile.name, own: profile.own, values };
    if (await cut((base, design) => api.beginWith(design, base, section.id, wanted))) onClose();
  };
  const keep = async () => {
    try {
      await api.keepProfile(id, section.id, name.trim() || section.name);
      await refresh();
    } catch (error) {
      problem(error);
    }
  };
  const forget = async (profile: Profile) => {
    await api.forgetProfile(profile.name);
    setChosen(null);
    await refresh();
  };
  return (
    <Box component="section" aria-label="From the library" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h3">From the library</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(104px, 1fr))", gap: 1 }}>
        {(data ?? []).map((profile) => (
          <ButtonBase
            key={`${profile.own ? "own" : "starter"} ${profile.name}`}
            aria-pressed={chosen === profile}
            onClick={() => {
              setChosen(profile);
              setTexts(NOTHING);
            }}
            sx={{
              display: "grid",
              p: 1,
              gap: 0.5,
              borderRadius: 1,
              fontSize: 12,
              border: `1px solid ${chosen === profile ? colours.buoy : colours.hairline}`,
              bgcolor: chosen === profile ? colours.buoyWash : colours.panel,
            }}
          >
            <Picture paths={profile.paths} />
            {profile.title}
          </ButtonBase>
        ))}
      </Box>
      {chosen && (
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "end", flexWrap: "wrap" }}>
          <TypedFields fields={fields} texts={texts} told={told} onChange={setTexts} width={92} />
          <Button variant="contained" onClick={() => void begin(chosen)}>
            Begin with {chosen.title}
          </Button>
          {chosen.own && (
            <Button variant="outlined" color="error" onClick={() => void forget(chosen)}>
              Forget it
            </Button>
          )}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Box
          component="input"
          aria-label="Name in the library"
          value={name}
          onChange={(event: React.ChangeEvent<HTMLInputElement>) => setName(event.target.value)}
          sx={{ fontSize: 13, p: "4px 8px", border: `1px solid ${colours.hairline}`, borderRadius: "4px", width: 180 }}
        />
        <Button variant="outlined" onClick={() => void keep()}>
          Keep this drawing in the library
        </Button>
      </Box>
    </Box>
  );
}

/** A profile drawn small. */
function Picture({ paths }: { paths: readonly string[] }) {
  const group = useRef<SVGGElement>(null);
  const [box, setBox] = useState<string | null>(null);
  const measure = (element: SVGGElement | null) => {
    group.current = element;
    if (!element || box) return;
    const { x, y, width, height } = element.getBBox();
    const size = Math.max(width, height, 1) * 1.12;
    setBox(`${x + width / 2 - size / 2} ${-(y + height / 2) - size / 2} ${size} ${size}`);
  };
  return (
    <svg width={64} height={64} viewBox={box ?? "-50 -50 100 100"} aria-hidden="true" style={{ margin: "auto" }}>
      <g transform="scale(1,-1)">
        <g ref={measure}>
          {paths.map((d, i) => (
            <path key={i} d={d} fill="none" stroke={colours.ink} strokeWidth={1.4} vectorEffect="non-scaling-stroke" />
          ))}
        </g>
      </g>
    </svg>
  );
}
