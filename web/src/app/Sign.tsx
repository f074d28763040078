import { colours } from "../theme/colours";

/** Signs that go with words: drawn here, since a letter that looks like one may be missing on a machine. */
const PATHS = {
  note: (
    <>
      <circle cx="8" cy="8" r="6.2" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <path d="M8 7.4V11.4M8 4.4V5.4" stroke="currentColor" strokeWidth="1.7" />
    </>
  ),
  warning: (
    <path d="M8 2.2L14.4 13.4H1.6Z" fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinejoin="round" />
  ),
  error: <path d="M8 1.6L14.8 13.8H1.2Z" fill="currentColor" />,
  waiting: (
    <>
      <circle cx="8" cy="8" r="6.2" fill="none" stroke="currentColor" strokeWidth="1.5" />
      <path d="M8 4.4V8H11" fill="none" stroke="currentColor" strokeWidth="1.5" />
    </>
  ),
  remove: <path d="M4 4L12 12M12 4L4 12" fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinecap="round" />,
  station: <path d="M8 2L14 8L8 14L2 8Z" fill="none" stroke={colours.brass} strokeWidth="1.5" />,
};

/** label: what it says where no words beside it do. */
export function Sign({ of, label, size = 13 }: { of: keyof typeof PATHS; label?: string; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      style={{ verticalAlign: "-0.1em", flex: "none" }}
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    >
      {PATHS[of]}
    </svg>
  );
}
