import { useState } from "react";
import { Button } from "./Button";

interface Props {
  /** What the field is called, and what stands in it while it is empty. */
  label: string;
  hint: string;
  /** What the button says. */
  name: string;
  onTag: (tag: string) => void;
}

/** A tag in own words. */
export function TagForm({ label, hint, name, onTag }: Props) {
  const [tag, setTag] = useState("");
  return (
    <form
      className="flex items-center gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (tag.trim()) onTag(tag.trim());
        setTag("");
      }}
    >
      <input
        aria-label={label}
        placeholder={hint}
        value={tag}
        maxLength={40}
        onChange={(event) => setTag(event.target.value)}
        className="w-40 rounded border border-hairline bg-sheet px-2 py-0.5"
      />
      <Button type="submit" look="quiet" className="!p-0" disabled={!tag.trim()}>
        {name}
      </Button>
    </form>
  );
}
