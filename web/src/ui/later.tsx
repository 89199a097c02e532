import { type ComponentType, useEffect, useState } from "react";
import { tell } from "./Notices";

/**
 * A component whose code comes when it is first shown; until then its stand-in.
 * Not by Suspense, which holds back for 300 ms what comes soon after its stand-in.
 */
export function later<P extends object>(
  load: () => Promise<ComponentType<P>>,
  standIn: React.ReactNode = null,
): ComponentType<P> {
  let here: ComponentType<P> | undefined;
  return function Later(props: P) {
    const [Shown, setShown] = useState(() => here);
    useEffect(() => {
      if (Shown) return;
      load().then((shown) => {
        here = shown;
        setShown(() => shown);
      }, tell);
    }, [Shown]);
    return Shown ? <Shown {...props} /> : standIn;
  };
}
