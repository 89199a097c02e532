import type { ComponentProps } from "react";

type Look = "main" | "quiet" | "dark";

const LOOKS: Record<Look, string> = {
  main: "bg-accent font-bold text-ink hover:brightness-105 disabled:opacity-50",
  quiet: "text-petrol font-bold hover:underline disabled:opacity-50",
  dark: "text-sheet hover:bg-sheet/10 disabled:opacity-40",
};

/** The one button. */
export function Button({ look = "main", className = "", ...rest }: ComponentProps<"button"> & { look?: Look }) {
  return (
    <button
      type="button"
      className={`rounded-md px-3 py-1.5 whitespace-nowrap disabled:cursor-default ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
