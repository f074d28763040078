import { useEffect, useRef, useState } from "react";

/** Whether an element has come into sight yet: what is costly waits for that. */
export function useSeen<T extends Element>(): [React.RefObject<T | null>, boolean] {
  const holder = useRef<T>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!holder.current) return;
    const observer = new IntersectionObserver(
      (entries) => {
        if (entries.some((entry) => entry.isIntersecting)) setSeen(true);
      },
      { rootMargin: "200px" },
    );
    observer.observe(holder.current);
    return () => observer.disconnect();
  }, []);
  return [holder, seen];
}
