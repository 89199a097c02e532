import { type RefObject, useEffect, useRef, useState } from "react";

/** How near the edge of the page counts as in sight. */
const NEAR = "150px";

/** Whether an element has come into sight or near it, once and for all. */
export function useSeen<T extends Element>(): [RefObject<T | null>, boolean] {
  const ref = useRef<T>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!ref.current) return;
    const observer = new IntersectionObserver(
      (entries) => {
        if (!entries.some((entry) => entry.isIntersecting)) return;
        observer.disconnect();
        setSeen(true);
      },
      { rootMargin: NEAR },
    );
    observer.observe(ref.current);
    return () => observer.disconnect();
  }, []);
  return [ref, seen];
}
