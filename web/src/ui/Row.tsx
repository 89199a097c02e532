import type { ReactNode } from "react";

/** A setting: its name at the left, its control at the right. */
export function Row({
  name,
  help,
  id,
  path,
  children,
}: {
  name: string;
  help?: string;
  id?: string;
  /** The recipe's path that it changes. */
  path?: string | undefined;
  children: ReactNode;
}) {
  return (
    <div className="grid grid-cols-[5.6rem_minmax(0,1fr)] items-center gap-2" title={help} data-path={path}>
      {id ? <label htmlFor={id}>{name}</label> : <span>{name}</span>}
      {children}
    </div>
  );
}
