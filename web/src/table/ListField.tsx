import { useEffect, useRef, useState } from "react";

interface Props {
  id?: string;
  label?: string;
  text: string;
  narrow?: boolean;
  onText: (text: string) => void;
}

/** A line that keeps what is typed while it is read as something else (numbers, a list). */
export function ListField({ id, label, text, narrow, onText }: Props) {
  const [typed, setTyped] = useState(text);
  const focused = useRef(false);
  useEffect(() => {
    if (!focused.current) setTyped(text);
  }, [text]);
  return (
    <input
      id={id}
      aria-label={label}
      value={typed}
      onFocus={() => {
        focused.current = true;
      }}
      onBlur={() => {
        focused.current = false;
        setTyped(text);
      }}
      onChange={(event) => {
        setTyped(event.target.value);
        onText(event.target.value);
      }}
      className={`input ${narrow ? "number w-24" : "w-full min-w-36"}`}
    />
  );
}
