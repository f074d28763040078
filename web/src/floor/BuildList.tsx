import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { Fragment, memo } from "react";
import type { Step } from "../api/types";
import type { Stand } from "../model/outline";
import { toggleHidden } from "../model/place";
import { kindOf } from "../steps/registry";
import { Sign } from "../app/Sign";
import { colours } from "../theme/colours";
import { usePicking } from "../picking/usePicking";
import { useDocument, useFloor, useOutline, usePlace, useStatus, useStep } from "./context";
import { Dimensions } from "./Dimensions";
import { NumberMark } from "./NumberMark";
import { useCarried, useTaking } from "./useGiving";
import { StateMark } from "./StateMark";

/** The design as sentences: each body, what it goes through, and how it stands. */
export const BuildList = memo(function BuildList() {
  const { steps } = useDocument();
  const outline = useOutline();
  const hidden = usePlace((p) => p.hidden);
  return (
    <Box sx={{ pb: 2 }}>
      <Typography
        variant="body2"
        color="text.secondary"
        component="h2"
        sx={{ px: 1.75, pt: 1.5, pb: 0.5, fontWeight: 600 }}
      >
        Build
      </Typography>
      {steps.length === 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 1.75 }}>
          Nothing here yet. Draw a first section from the row at the top of the scene; a second one makes a body
          possible.
        </Typography>
      )}
      {outline.groups.map(({ body, makers }) => (
        <Box key={body.id} component="section" aria-label={body.name}>
          {makers.map(({ step, stands }, i) => (
            <Fragment key={step.id}>
              <Box sx={{ position: "relative", "&:hover > .sight, & > .sight:focus-visible": { opacity: 1 } }}>
                <Row step={step} then={i > 0} faint={hidden.includes(body.id)}>
                  <b>{step.name}</b>
                  <Words step={step} />
                </Row>
                {i === 0 && <Sight body={body} />}
              </Box>
              {stands.map((stand) => (
                <SectionRow key={stand.section} stand={stand} />
              ))}
            </Fragment>
          ))}
        </Box>
      ))}
      {outline.loose.length > 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 1.75, pt: 1.5, pb: 0.5 }}>
          Not in a body yet
        </Typography>
      )}
      {outline.loose.map((stand) => (
        <SectionRow key={stand.section} stand={stand} />
      ))}
      {outline.rails.length > 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 1.75, pt: 1.5, pb: 0.5 }}>
          Rails
        </Typography>
      )}
      {outline.rails.map((step) => (
        <Row key={step.id} step={step} inset>
          <RailMark />
          <span>
            {step.name}, <Words step={step} quiet />
          </span>
        </Row>
      ))}
      {outline.references.map((step) => (
        <Box key={step.id} sx={{ position: "relative", "&:hover > .sight, & > .sight:focus-visible": { opacity: 1 } }}>
          <Row step={step} faint={hidden.includes(step.id)}>
            <span>
              {step.name} <Words step={step} quiet />
            </span>
          </Row>
          <Sight body={step} />
        </Box>
      ))}
      {outline.pictures.map((step) => (
        <Row key={step.id} step={step}>
          <span>{step.name}</span>
        </Row>
      ))}
      {outline.measures.length > 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ px: 1.75, pt: 1.5, pb: 0.5 }}>
          Measures
        </Typography>
      )}
      {outline.measures.map((step) => (
        <Row key={step.id} step={step} inset>
          <span>
            {step.name} <Words step={step} quiet />
          </span>
        </Row>
      ))}
      {outline.bare.map((step) => (
        <Row key={step.id} step={step}>
          <Box component="span" sx={{ width: 20, display: "grid", placeItems: "center" }}>
            <Sign of="station" />
          </Box>
          <span>{step.name}</span>
        </Row>
      ))}
      <Dimensions />
    </Box>
  );
});

/** Puts a body out of sight and back; seen where the pointer or the focus is, and as long as the body is out of sight. */
function Sight({ body }: { body: Step }) {
  const { place } = useFloor();
  const out = usePlace((p) => p.hidden.includes(body.id));
  return (
    <ButtonBase
      className="sight"
      aria-label={out ? `Show ${body.name}` : `Hide ${body.name}`}
      onClick={() => toggleHidden(place, body.id)}
      sx={{
        position: "absolute",
        top: 3,
        right: out ? 10 : 30,
        px: 0.75,
        height: 22,
        borderRadius: 1,
        fontSize: 13,
        fontWeight: 600,
        color: colours.estuary,
        bgcolor: colours.panel,
        opacity: out ? 1 : 0,
      }}
    >
      {out ? "Show" : "Hide"}
    </ButtonBase>
  );
}

/** A batten under its weights. */
function RailMark() {
  return (
    <svg width="20" height="14" viewBox="0 0 20 14" aria-hidden="true" style={{ flex: "none" }}>
      <path d="M1 11C6 11 7 4 19 3" fill="none" stroke={colours.estuary} strokeWidth="2" />
    </svg>
  );
}

/** How a step reads after its name. */
function Words({ step, quiet = false }: { step: Step; quiet?: boolean }) {
  const document = useDocument();
  const status = useStatus(step.id);
  const names = (id: string) => document.steps.find((s) => s.id === id)?.name ?? "what is gone";
  const words = kindOf(step).words(step, status, names, document);
  return quiet ? <i>{words}</i> : <span title={words}>{words}</span>;
}

const SectionRow = memo(function SectionRow({ stand }: { stand: Stand }) {
  const step = useStep(stand.section);
  if (!step) return null;
  return (
    <Row step={step} inset>
      <NumberMark number={stand.number} step={stand.section} />
      <span>
        {stand.name}, <Words step={step} quiet />
      </span>
    </Row>
  );
});

function Row(props: { step: Step; inset?: boolean; then?: boolean; faint?: boolean; children: React.ReactNode }) {
  const { step, inset = false, then = false, faint = false, children } = props;
  const { place } = useFloor();
  const pickable = usePicking(step);
  const chosen = usePlace((p) => p.selected === step.id);
  const carried = useCarried(step);
  const taking = useTaking(() => [step.id]);
  const over = usePlace((p) => p.carried !== null && p.hovered === step.id);
  return (
    <ButtonBase
      {...carried}
      {...taking}
      onClick={() => (pickable ? pickable() : place.setState({ selected: step.id }))}
      onPointerEnter={() => place.setState({ hovered: step.id })}
      onPointerLeave={() => place.setState({ hovered: null })}
      aria-current={chosen || undefined}
      data-step={step.id}
      sx={{
        display: "flex",
        width: "100%",
        minHeight: 28,
        // a long list costs only what is seen of it
        contentVisibility: "auto",
        containIntrinsicSize: "auto 28px",
        justifyContent: "flex-start",
        gap: 1,
        py: 0.25,
        pl: inset ? 3.5 : 1.5,
        // room for what brings it back
        pr: faint ? 8.5 : 1.5,
        textAlign: "left",
        fontSize: 14,
        borderLeft: `3px solid ${chosen ? colours.buoy : "transparent"}`,
        bgcolor: chosen ? colours.buoyWash : "transparent",
        opacity: step.skip || faint ? 0.7 : 1,
        ...(then ? { borderTop: `1px dotted ${colours.hairline}` } : {}),
        ...(pickable || over ? { outline: `1.5px dashed ${colours.buoy}`, outlineOffset: "-2px" } : {}),
        "&:hover": { bgcolor: chosen ? colours.buoyWash : colours.paper },
        "& b": { flex: "none", maxWidth: "55%", overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" },
        "& i": { fontStyle: "normal", color: colours.inkSoft },
        "& span": { overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" },
      }}
    >
      {children}
      <StateMark step={step.id} />
    </ButtonBase>
  );
}
