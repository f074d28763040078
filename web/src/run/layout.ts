import type { Stand } from "../model/outline";

export const THUMB = 46;
const APART = THUMB + 8;

/** From mm along the body to pixels across the strip. */
export interface Scale {
  low: number;
  high: number;
  left: number;
  width: number;
}

export const toPixel = (scale: Scale, mm: number): number =>
  scale.left + ((mm - scale.low) / (scale.high - scale.low || 1)) * scale.width;

export const toMm = (scale: Scale, pixels: number): number => (pixels / scale.width) * (scale.high - scale.low || 1);

/**
 * The scale on which all stations are seen, and where a ring comes back to its first, mm; null for none. Where they stand at one place there is room to
 * drag one away: four times what is drawn.
 */
export function scaleOf(stands: readonly Stand[], ring: number | null, left: number, width: number): Scale {
  const places = [...stands.map((stand) => stand.at), ...(ring === null ? [] : [ring])];
  const [low, high] = [Math.min(...places), Math.max(...places)];
  if (high - low > 1e-6) return { low, high: Math.max(high, low + 1), left, width };
  const room = Math.max(8 * commonSize(stands).size, 10);
  return { low: Math.min(low, 0), high: Math.max(high, room), left, width };
}

/** Where thumbnails stand so that none covers another: each as near to its station as its neighbours allow. */
export function spread(places: readonly number[], low: number, high: number): number[] {
  const order = places.map((_, i) => i).toSorted((a, b) => (places[a] ?? 0) - (places[b] ?? 0));
  const result = [...places];
  const gap = Math.min(APART, (high - low) / Math.max(places.length - 1, 1));
  for (let round = 0; round < 60; round++) {
    let moved = false;
    for (let k = 1; k < order.length; k++) {
      const [a, b] = [order[k - 1] ?? 0, order[k] ?? 0];
      const overlap = gap - ((result[b] ?? 0) - (result[a] ?? 0));
      if (overlap <= 0.25) continue;
      result[a] = Math.max(low, (result[a] ?? 0) - overlap / 2);
      result[b] = Math.min(high, (result[b] ?? 0) + overlap / 2);
      moved = true;
    }
    if (!moved) break;
  }
  return result;
}

/** Round numbers for a ruler, about so many of them. */
export function ticks(low: number, high: number, about: number): number[] {
  const raw = (high - low) / Math.max(about, 1);
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= raw) ?? raw;
  const first = Math.ceil(low / step - 1e-9);
  return Array.from({ length: Math.floor((high - low) / step + 1e-9) + 2 }, (_, i) => (first + i) * step).filter(
    (t) => t <= high + step * 1e-6,
  );
}

/** An outline as a path that fits a thumbnail; `size` is the largest half extent of all sections, so that they compare. */
export function thumbPath(
  outline: readonly (readonly [number, number])[],
  closed: boolean,
  middle: readonly [number, number],
  size: number,
): string {
  const k = (THUMB * 0.4) / (size || 1);
  const points = outline.map(([x, y]) => `${((x - middle[0]) * k).toFixed(2)},${(-(y - middle[1]) * k).toFixed(2)}`);
  return points.length ? `M${points.join("L")}${closed ? "Z" : ""}` : "";
}

/** The common middle and largest half extent of some outlines, mm. */
export function commonSize(stands: readonly Stand[]): { middle: [number, number]; size: number } {
  const points = stands.flatMap((stand) => stand.outline);
  if (!points.length) return { middle: [0, 0], size: 1 };
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return { middle: [(x0 + x1) / 2, (y0 + y1) / 2], size: Math.max(x1 - x0, y1 - y0, 1e-6) / 2 };
}
