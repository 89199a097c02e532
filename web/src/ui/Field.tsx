import { type ComponentProps, type KeyboardEvent, useEffect, useState } from "react";

interface Settled {
  value: string;
  /** The text that stays, on Enter or when the field is left; false puts the old one back. */
  onSettle: (text: string) => boolean;
  /** The field was left, or Escape pressed, without another text. */
  onLeave?: (() => void) | undefined;
}

type Rest<Tag extends "input" | "textarea"> = Omit<
  ComponentProps<Tag>,
  keyof Settled | "onChange" | "onBlur" | "onKeyDown" | "rows"
>;

/** What a field of text needs so that its text counts only when it is settled. */
function useSettled({ value, onSettle, onLeave }: Settled) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const settle = () => {
    if (text === value) onLeave?.();
    else if (!onSettle(text.trim())) setText(value);
  };
  return {
    value: text,
    onChange: (event: { target: { value: string } }) => setText(event.target.value),
    onBlur: settle,
    onKeyDown: (event: KeyboardEvent) => {
      // Enter that ends the composing of a letter is no end of the text.
      if (event.nativeEvent.isComposing) return;
      if (event.key === "Enter") {
        event.preventDefault();
        settle();
      }
      if (event.key === "Escape" && onLeave) {
        event.stopPropagation();
        onLeave();
      }
    },
  };
}

/** A line of text that counts only when it is settled. */
export function Field({ value, onSettle, onLeave, ...rest }: Settled & Rest<"input">) {
  return <input {...rest} {...useSettled({ value, onSettle, onLeave })} />;
}

/** About how many letters a row of the narrowest of them holds, where the browser cannot fit it to its text. */
const LETTERS = 32;

/** The same for words that may be long: as high as they need. */
export function Words({ value, onSettle, onLeave, className = "", ...rest }: Settled & Rest<"textarea">) {
  const settled = useSettled({ value, onSettle, onLeave });
  const rows = 1 + Math.floor(settled.value.length / LETTERS);
  return (
    <textarea {...rest} {...settled} rows={rows} className={`resize-none [field-sizing:content] ${className}`} />
  );
}
