import { useEffect, type RefObject } from "react";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import type { CombOut } from "../api/types";
import { useFloor, useHead, usePlace } from "../floor/context";
import { combSegments } from "./combs";
import type { Viewport } from "./viewport";

const NONE: readonly CombOut[] = [];

/** The combs of a body where they are wanted: those of what is kept, and while it is pulled about those of what is seen. step: what made it. */
export function useCombs(viewport: RefObject<Viewport | null>, step: string): void {
  const { id, live } = useFloor();
  const { revision } = useHead().design;
  const wanted = usePlace((place) => place.combs) && step !== "";
  const { data: kept } = useQuery({ ...queries.combs(id, revision, step), enabled: wanted });

  useEffect(() => {
    show(viewport.current, NONE);
    if (!wanted) return;
    live.comb(step);
    const stop = live.built.subscribe((now, before) => {
      const combs = now.combs[step];
      if (combs && combs !== before.combs[step]) show(viewport.current, combs);
    });
    return () => {
      stop();
      live.comb("");
    };
  }, [viewport, live, wanted, step]);

  // until those of a new revision are there, what was seen while it was pulled stays
  useEffect(() => {
    if (wanted && kept) show(viewport.current, kept);
  }, [viewport, wanted, kept]);
}

function show(viewport: Viewport | null, combs: readonly CombOut[]): void {
  if (!viewport) return;
  const segments = combSegments(combs);
  viewport.setCombs(segments);
  viewport.element.dataset["teeth"] = String(segments.length / 6);
  const sum = combs.reduce((so, { bends }) => bends.reduce((all, bend) => all + Math.hypot(...bend), so), 0);
  viewport.element.dataset["bends"] = sum.toFixed(4);
}
