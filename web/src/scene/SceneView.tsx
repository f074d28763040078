import { useEffect, useRef } from "react";
import type { PlaceStore } from "../model/place";
import { bodyGeometry } from "./bodyGeometry";
import "./scene.css";
import { Viewport, type StagedBody, type StagedSection } from "./viewport";

export interface SceneBody {
  id: string;
  mesh: string;
  stale: boolean;
}

interface Props {
  bodies: SceneBody[];
  sections: StagedSection[];
  place: PlaceStore;
  onReady: (viewport: Viewport | null) => void;
}

/** The scene: keeps a viewport and tells it what to show. */
export function SceneView({ bodies, sections, place, onReady }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const viewport = useRef<Viewport | null>(null);
  const shown = useRef(0);

  useEffect(() => {
    if (!holder.current) return;
    const made = new Viewport(holder.current, {
      pick: (id) => place.setState({ selected: id }),
      hover: (id) => place.setState({ hovered: id }),
      viewed: (view) => place.setState({ view }),
    });
    viewport.current = made;
    const apply = () => {
      const { selected, hovered, lit } = place.getState();
      made.setSelected(selected, hovered);
      made.setLit(lit);
    };
    made.setMode(place.getState().mode);
    apply();
    const stop = place.subscribe((now, before) => {
      if (now.mode !== before.mode) made.setMode(now.mode);
      apply();
    });
    onReady(made);
    return () => {
      stop();
      onReady(null);
      viewport.current = null;
      made.dispose();
    };
  }, [place, onReady]);

  useEffect(() => {
    const turn = ++shown.current;
    const staged = bodies.map(async (body): Promise<StagedBody> => ({
      id: body.id,
      stale: body.stale,
      geometry: await bodyGeometry(body.mesh),
    }));
    Promise.all(staged)
      .then((ready) => {
        // an answer that comes after a newer one is of no use any more
        if (turn !== shown.current || !viewport.current) return;
        const view = place.getState().view;
        viewport.current.setStage(ready, sections);
        if (view && holder.current?.dataset["placed"] !== "yes") viewport.current.setView(view);
        if (holder.current) {
          holder.current.dataset["placed"] = "yes";
          holder.current.dataset["meshes"] = bodies.map((body) => body.mesh).join(" ");
        }
      })
      .catch(() => undefined);
  }, [bodies, sections, place]);

  return <div ref={holder} className="scene" data-testid="scene" />;
}
