import { useEffect, useState } from "react";

/** A value once it has rested so long, in ms. */
export function useLater<T>(value: T, rest: number): T {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), rest);
    return () => clearTimeout(timer);
  }, [value, rest]);
  return later;
}
