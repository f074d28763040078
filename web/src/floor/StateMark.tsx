import Box from "@mui/material/Box";
import { useEffect, useState } from "react";
import { api } from "../api/client";
import { colours } from "../theme/colours";
import { numbers } from "../theme/theme";
import { useFloor } from "./context";

/** How a step stands, where that is worth a word. Work that takes long shows its time and can be stopped. */
export function StateMark({ step }: { step: string }) {
  const { built, design } = useFloor();
  const status = built.steps[step];
  const working = useWorkingFor(built.working === step);
  if (working !== null) {
    return (
      <Mark colour={colours.estuary}>
        working {working.toFixed(1)} s ·{" "}
        <u
          onClick={(event) => {
            event.stopPropagation();
            void api.stop(design.id);
          }}
        >
          stop
        </u>
      </Mark>
    );
  }
  if (design.document.steps.find((s) => s.id === step)?.skip) return <Mark colour={colours.inkSoft}>skipped</Mark>;
  if (status?.state === "failed") return <Mark colour={colours.brick}>▲ needs you</Mark>;
  if (status?.state === "waiting") return <Mark colour={colours.amber}>◷ waiting</Mark>;
  if (status?.findings.some((finding) => finding.severity === "warning"))
    return <Mark colour={colours.amber}>△ look</Mark>;
  const solid = built.solids[step];
  if (solid && solid.key === status?.key && !solid.valid) return <Mark colour={colours.amber}>△ no solid</Mark>;
  return null;
}

/** Seconds that work has gone on, once it is worth showing; null before. */
function useWorkingFor(active: boolean): number | null {
  const [seconds, setSeconds] = useState<number | null>(null);
  useEffect(() => {
    if (!active) return;
    const begun = performance.now();
    const tick = setInterval(() => {
      const spent = (performance.now() - begun) / 1000;
      if (spent >= 0.5) setSeconds(spent);
    }, 100);
    return () => {
      clearInterval(tick);
      setSeconds(null);
    };
  }, [active]);
  return active ? seconds : null;
}

function Mark({ colour, children }: { colour: string; children: React.ReactNode }) {
  return (
    <Box
      component="small"
      sx={{
        ml: "auto",
        flex: "none",
        fontSize: 12,
        fontWeight: 600,
        color: colour,
        ...(typeof children === "string" ? {} : numbers),
      }}
    >
      {children}
    </Box>
  );
}
