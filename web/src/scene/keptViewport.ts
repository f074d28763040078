import type { StageListeners, View } from "./listeners";
import { Viewport } from "./viewport";

/** The one viewport of a design, kept while the designer goes from the floor to the board and back: its shaders and meshes are made once. */
export class KeptViewport {
  private made: Viewport | null = null;

  /** Into a place of the page. view: where the eye is when it is made. */
  enter(place: HTMLElement, listeners: StageListeners, view: View | null): Viewport {
    this.made ??= new Viewport(listeners, view);
    this.made.enter(place, listeners);
    return this.made;
  }

  dispose(): void {
    this.made?.dispose();
    this.made = null;
  }
}
