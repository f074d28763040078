import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useSnackbar } from "notistack";
import { useRef, useState } from "react";
import { api, type Placing } from "../api/client";
import type { Profile, Step } from "../api/types";
import { useProblem } from "../app/useProblem";
import { useDocument, useFloor } from "../floor/context";
import { length, millimetres, trimmed } from "../model/units";
import { colours } from "../theme/colours";
import { SmallField } from "./SmallField";

const AS_IT_IS: Placing = { scale: 1, turn: 0, x: 0, y: 0, tolerance: 0.01 };
/** Files that may hold a foil, which has a chord. */
const POINTS = /\.(dat|txt|csv)$/i;
const profilesQuery = { queryKey: ["profiles"], queryFn: api.profiles };

/** Curves from outside: from a file, placed as it comes in, or from the library. */
export function BringIn({ section, onClose }: { section: Step; onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="bring-title">
      <DialogTitle id="bring-title" sx={{ fontWeight: 600, pb: 1 }}>
        Bring in
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2.5 }}>
        <FromFile section={section} onClose={onClose} />
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

function FromFile({ section, onClose }: { section: Step; onClose: () => void }) {
  const { cut } = useFloor();
  const { unit } = useDocument();
  const { enqueueSnackbar } = useSnackbar();
  const chooser = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [placing, setPlacing] = useState(AS_IT_IS);
  const set = (name: keyof Placing) => (value: number) => setPlacing({ ...placing, [name]: value });
  const mm = millimetres(unit);
  const bring = () => {
    if (!file) return;
    void cut(async (base, design) => {
      const found = await api.bring(design, base, section.id, file, placing);
      enqueueSnackbar(
        `${found.curves} ${found.curves === 1 ? "curve" : "curves"} through ${found.points} points, within ${length(Math.max(found.deviation, 1e-6), unit)} of the file`,
        { variant: "success" },
      );
      return found.design;
    }).then((kept) => kept && onClose());
  };
  return (
    <Box component="section" aria-label="From a file" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h3">From a file</Typography>
      <Typography variant="body2" color="text.secondary">
        Foil coordinates and lists of points (.dat, .txt, .csv), DXF and SVG. Points are fitted with splines.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <input
          ref={chooser}
          type="file"
          hidden
          data-testid="curve-file"
          accept=".dat,.txt,.csv,.dxf,.svg"
          onChange={(event) => setFile(event.target.files?.[0] ?? null)}
        />
        <Button variant="outlined" onClick={() => chooser.current?.click()}>
          {file ? file.name : "Choose a file"}
        </Button>
        {file && POINTS.test(file.name) && (
          <Plain
            title={`Chord (${unit})`}
            value={placing.chord === undefined ? null : placing.chord / mm}
            onKeep={(v) => set("chord")(v * mm)}
            onClear={() => setPlacing({ ...placing, chord: undefined })}
          />
        )}
        <Plain title="Scaled by" value={placing.scale} onKeep={set("scale")} />
        <Plain title="Turned by (deg)" value={placing.turn} onKeep={set("turn")} />
        <Plain title={`x (${unit})`} value={placing.x / mm} onKeep={(v) => set("x")(v * mm)} />
        <Plain title={`y (${unit})`} value={placing.y / mm} onKeep={(v) => set("y")(v * mm)} />
        <Plain title={`Within (${unit})`} value={placing.tolerance / mm} onKeep={(v) => set("tolerance")(v * mm)} />
        <Button variant="contained" disabled={!file} onClick={bring}>
          Add its curves
        </Button>
      </Box>
    </Box>
  );
}

/** onClear: for a number that may be left out. */
function Plain({
  title,
  value,
  onKeep,
  onClear,
}: {
  title: string;
  value: number | null;
  onKeep: (value: number) => void;
  onClear?: () => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const wrong = text !== null && !Number.isFinite(Number(text));
  return (
    <SmallField
      title={title}
      width={88}
      value={text ?? (value === null ? "" : trimmed(value, 4))}
      wrong={wrong}
      onChange={(typed) => {
        setText(typed);
        if (!typed.trim()) onClear?.();
        else if (Number.isFinite(Number(typed))) onKeep(Number(typed));
      }}
    />
  );
}

function FromLibrary({ section, onClose }: { section: Step; onClose: () => void }) {
  const { cut, id } = useFloor();
  const { data } = useQuery(profilesQuery);
  const cache = useQueryClient();
  const problem = useProblem();
  const [chosen, setChosen] = useState<Profile | null>(null);
  const [values, setValues] = useState<Record<string, number>>({});
  const [name, setName] = useState(section.name);
  const refresh = () => cache.invalidateQueries({ queryKey: profilesQuery.queryKey });
  const begin = (profile: Profile) =>
    cut((base, design) =>
      api.beginWith(design, base, section.id, { name: profile.name, own: profile.own, values }),
    ).then((kept) => kept && onClose());
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
              setValues({});
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
          {chosen.parameters?.map((p) => (
            <Plain
              key={`${chosen.name} ${p.name}`}
              title={p.kind === "length" ? `${p.title} (mm)` : p.title}
              value={values[p.name] ?? p.first}
              onKeep={(v) => setValues({ ...values, [p.name]: v })}
            />
          ))}
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
