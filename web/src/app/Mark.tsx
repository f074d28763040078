/** The product's mark: a bent batten between two weights. */
export function Mark({ size = 26 }: { size?: number }) {
  return <img src="/mark.svg" width={size} height={size} alt="" />;
}
