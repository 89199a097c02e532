import { type RefObject, useEffect, useRef, useState } from "react";

/** How near the edge of the page counts as in sight. */
const NEAR = "150px";
/** What flies by while a long list is scrolled is not looked at, in ms. */
const REST = 80;

/** Whether an element has come into sight or near it and stayed a moment, once and for all. */
export function useSeen<T extends Element>(): [RefObject<T | null>, boolean] {
  const ref = useRef<T>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!ref.current) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const see = () => {
      observer.disconnect();
      setSeen(true);
    };
    const observer = new IntersectionObserver(
      (entries) => {
        clearTimeout(timer);
        if (entries.at(-1)?.isIntersecting) timer = setTimeout(see, REST);
      },
      { rootMargin: NEAR },
    );
    observer.observe(ref.current);
    return () => {
      clearTimeout(timer);
      observer.disconnect();
    };
  }, []);
  return [ref, seen];
}
