import Box from "@mui/material/Box";
import { useEffect, useState } from "react";
import { api } from "../api/client";
import { Sign } from "../app/Sign";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { useBuilt, useFindings, useFloor, useStatus, useStep } from "./context";

/** How a step stands, where that is worth a word. Work that takes long shows its time and can be stopped. */
export function StateMark({ step }: { step: string }) {
  const { id } = useFloor();
  const status = useStatus(step);
  const findings = useFindings(step);
  const skipped = useStep(step)?.skip;
  const solid = useBuilt((built) => built.solids[step]);
  const working = useSecondsSince(useBuilt((built) => (built.working?.step === step ? built.working.since : null)));
  if (working !== null) {
    return (
      <Mark colour={colours.estuary} counting>
        working {working.toFixed(1)} s ·{" "}
        <u
          onClick={(event) => {
            event.stopPropagation();
            void api.stop(id);
          }}
        >
          stop
        </u>
      </Mark>
    );
  }
  if (skipped) return <Mark colour={colours.inkSoft}>skipped</Mark>;
  if (status?.state === "beyond") return <Mark colour={colours.inkSoft}>left for later</Mark>;
  if (status?.state === "failed")
    return (
      <Mark colour={colours.brick}>
        <Sign of="error" size={11} /> needs you
      </Mark>
    );
  if (status?.state === "waiting")
    return (
      <Mark colour={colours.amber}>
        <Sign of="waiting" size={11} /> waiting
      </Mark>
    );
  if (findings.some((finding) => finding.severity === "warning"))
    return (
      <Mark colour={colours.amber}>
        <Sign of="warning" size={11} /> look
      </Mark>
    );
  if (solid && solid.key === status?.key && !solid.valid) {
    return (
      <Mark colour={colours.amber}>
        <Sign of="warning" size={11} /> no solid
      </Mark>
    );
  }
  return null;
}

/** Seconds since a moment of performance.now, counting on; null where there is none. */
function useSecondsSince(moment: number | null): number | null {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    if (moment === null) return;
    const tick = setInterval(() => setNow(performance.now()), 100);
    return () => clearInterval(tick);
  }, [moment]);
  return moment === null ? null : Math.max(0, now - moment) / 1000;
}

function Mark({ colour, counting, children }: { colour: string; counting?: boolean; children: React.ReactNode }) {
  return (
    <Box
      component="small"
      sx={{
        ml: "auto",
        flex: "none",
        fontSize: 12,
        fontWeight: 600,
        color: colour,
        ...(counting ? numbers : {}),
      }}
    >
      {children}
    </Box>
  );
}
