import { useState } from "react";
import { Link } from "wouter";
import { Button } from "./Button";
import { Field } from "./Field";
import { tell } from "./Notices";

interface Props {
  name: string;
  /** What it is the name of, such as "study". */
  what: string;
  /** Where the name leads. */
  href?: string;
  /** Whether it stands on a dark ground. */
  dark?: boolean;
  /** Another name is kept; null where nobody may give one. */
  onName: ((name: string) => Promise<unknown>) | null;
}

/** A name that is written anew where it stands. */
export function Named({ name, what, href, dark = false, onName }: Props) {
  const [written, setWritten] = useState(false);
  if (written && onName) {
    const settle = (text: string) => {
      if (!text) return false;
      setWritten(false);
      onName(text).catch(tell);
      return true;
    };
    return (
      <Field
        aria-label={`Name of the ${what}`}
        autoFocus
        value={name}
        onSettle={settle}
        onLeave={() => setWritten(false)}
        className="w-full rounded border border-hairline bg-sheet px-2 py-0.5 text-ink"
      />
    );
  }
  return (
    <span className="group/named flex items-baseline gap-2">
      {href ? (
        <Link href={href} className="min-w-0 truncate hover:underline" title={name}>
          {name}
        </Link>
      ) : (
        <span className="min-w-0 truncate" title={name}>
          {name}
        </span>
      )}
      {onName && (
        <Button
          look="quiet"
          className={`!p-0 text-[12px] !font-normal ${dark ? "max-w-0 overflow-hidden !text-sheet/80 focus-visible:max-w-none group-hover/named:max-w-none" : ""} opacity-0 focus-visible:opacity-100 group-hover/named:opacity-100`}
          aria-label={`Rename ${name}`}
          onClick={() => setWritten(true)}
        >
          Rename
        </Button>
      )}
    </span>
  );
}
