import { colours } from "../theme/colours";

interface Drawn {
  /** What is drawn, in ink. */
  ink?: string;
  /** What was there before, or goes, in pencil. */
  pencil?: string;
  /** What comes, in orange. */
  buoy?: string;
  /** The places that are picked. */
  dots?: readonly (readonly [number, number])[];
}

/** A small drawing for each tool, on a sheet of 20 by 20: ink for what it makes, pencil for what was there, orange for the hand. */
const GLYPHS: Readonly<Record<string, Drawn>> = {
  pull: { pencil: "M4 16L10 10", buoy: "M10 10L16 4M11 4H16V9", dots: [[4, 16]] },
  line: { ink: "M3 16L17 4", dots: [[3, 16], [17, 4]] }, // prettier-ignore
  bend: { pencil: "M2 16H8", ink: "M8 16A9 9 0 0 0 17 7", dots: [[8, 16], [17, 7]] }, // prettier-ignore
  arc: { ink: "M16 15A11 11 0 0 0 5 4", pencil: "M16 15H5V4", dots: [[5, 15]] },
  arc3: { ink: "M3 14A7.3 7.3 0 0 1 17 14", dots: [[3, 14], [17, 14], [10, 8.8]] }, // prettier-ignore
  circle: { ink: "M17 10A7 7 0 1 1 3 10A7 7 0 1 1 17 10", pencil: "M10 10H17", dots: [[10, 10]] },
  ellipse: { ink: "M18 10A8 5 0 1 1 2 10A8 5 0 1 1 18 10", dots: [[10, 10]] },
  rectangle: { ink: "M3 5H17V15H3Z", dots: [[3, 15], [17, 5]] }, // prettier-ignore
  centred: { ink: "M3 5H17V15H3Z", pencil: "M3 15L17 5", dots: [[10, 10]] },
  rounded: { ink: "M7 4H13A4 4 0 0 1 17 8V12A4 4 0 0 1 13 16H7A4 4 0 0 1 3 12V8A4 4 0 0 1 7 4Z" },
  polygon: { ink: "M10 3L16 6.5V13.5L10 17L4 13.5V6.5Z", dots: [[10, 10]] },
  slot: { ink: "M6 5.5H14A4.5 4.5 0 0 1 14 14.5H6A4.5 4.5 0 0 1 6 5.5Z", dots: [[6, 10], [14, 10]] }, // prettier-ignore
  spline: { ink: "M2 14C5 3 8 3 10 10S15 17 18 6", dots: [[2, 14], [10, 10], [18, 6]] }, // prettier-ignore
  poles: { ink: "M3 16C6 3 14 3 17 16", pencil: "M3 16L6 4L14 4L17 16", dots: [[6, 4], [14, 4]] }, // prettier-ignore
  point: { pencil: "M10 4V16M4 10H16", dots: [[10, 10]] },
  trace: { pencil: "M3 16C10 16 9 7 17 7", ink: "M3 13C10 13 9 4 17 4" },
  offset: { ink: "M3 15C6 7 12 5 17 5", buoy: "M7 17C9 12 13 10 17 10" },
  trim: { ink: "M3 12H10", pencil: "M10 4V17", buoy: "M12 12H17M13 9.5L17 14.5M17 9.5L13 14.5" },
  extend: { ink: "M3 10H8", buoy: "M8 10H15M12 7L15 10L12 13", pencil: "M17 3V17" },
  split: { ink: "M3 14L9 11.2M11.5 10L17 7", buoy: "M8 7L12.5 14" },
  divide: { ink: "M3 15C7 15 13 13 17 4", dots: [[8.6, 13.8], [13.4, 10.6]] }, // prettier-ignore
  fillet: { pencil: "M4 10V16H10", ink: "M4 3V8A8 8 0 0 0 12 16H17" },
  chamfer: { pencil: "M4 10V16H10", ink: "M4 3V9L11 16H17" },
};

/** What a tool does, at a glance. */
export function Glyph({ of }: { of: string }) {
  const { ink, pencil, buoy, dots = [] } = GLYPHS[of] ?? {};
  return (
    <svg
      width={20}
      height={20}
      viewBox="0 0 20 20"
      fill="none"
      strokeWidth={1.5}
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden
      style={{ flex: "none" }}
    >
      {pencil && <path d={pencil} stroke={colours.inkSoft} strokeWidth={1} strokeOpacity={0.7} />}
      {ink && <path d={ink} stroke="currentColor" />}
      {buoy && <path d={buoy} stroke={colours.buoy} />}
      {dots.map(([x, y]) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r={1.8} fill={colours.buoy} />
      ))}
    </svg>
  );
}
