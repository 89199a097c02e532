import { type ComponentProps, type KeyboardEvent, useEffect, useState } from "react";

interface Settled {
  value: string;
  /** The text that stays, on Enter or when the field is left; false where it is not understood. */
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
  const [refused, setRefused] = useState(false);
  useEffect(() => {
    setText(value);
    setRefused(false);
  }, [value]);
  const settle = () => {
    if (text === value) onLeave?.();
    else setRefused(!onSettle(text.trim()));
  };
  const back = () => {
    setText(value);
    setRefused(false);
  };
  const settled = {
    value: text,
    "aria-invalid": refused || undefined,
    onChange: (event: { target: { value: string } }) => {
      setText(event.target.value);
      setRefused(false);
    },
    onBlur: settle,
    onKeyDown: (event: KeyboardEvent) => {
      // Enter that ends the composing of a letter is no end of the text.
      if (event.nativeEvent.isComposing) return;
      if (event.key === "Enter") {
        event.preventDefault();
        settle();
      }
      if (event.key === "Escape" && (onLeave || refused)) {
        event.stopPropagation();
        if (refused) back();
        onLeave?.();
      }
    },
  };
  // What is not understood stays as it was typed, with a word about it.
  const fault = refused && (
    <span role="alert" className="col-span-full text-[12px] text-warn">
      “{text}” is not understood here; nothing was changed.
    </span>
  );
  return { settled, fault };
}

/** A line of text that counts only when it is settled. */
export function Field({ value, onSettle, onLeave, ...rest }: Settled & Rest<"input">) {
  const { settled, fault } = useSettled({ value, onSettle, onLeave });
  return (
    <>
      <input {...rest} {...settled} />
      {fault}
    </>
  );
}

/** About how many letters a row of the narrowest of them holds, where the browser cannot fit it to its text. */
const LETTERS = 32;

/** The same for words that may be long: as high as they need. */
export function Words({ value, onSettle, onLeave, className = "", ...rest }: Settled & Rest<"textarea">) {
  const { settled, fault } = useSettled({ value, onSettle, onLeave });
  const rows = 1 + Math.floor(settled.value.length / LETTERS);
  return (
    <>
      <textarea {...rest} {...settled} rows={rows} className={`resize-none [field-sizing:content] ${className}`} />
      {fault}
    </>
  );
}
