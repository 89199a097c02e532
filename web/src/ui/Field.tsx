import { type ComponentProps, useEffect, useState } from "react";

interface Props extends Omit<ComponentProps<"input">, "value" | "onChange" | "onBlur" | "onKeyDown"> {
  value: string;
  /** The text that stays, on Enter or when the field is left; false puts the old one back. */
  onSettle: (text: string) => boolean;
  /** The field was left, or Escape pressed, without another text. */
  onLeave?: () => void;
}

/** A line of text that counts only when it is settled. */
export function Field({ value, onSettle, onLeave, ...rest }: Props) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const settle = () => {
    if (text === value) onLeave?.();
    else if (!onSettle(text.trim())) setText(value);
  };
  return (
    <input
      {...rest}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === "Enter") settle();
        if (event.key === "Escape" && onLeave) {
          event.stopPropagation();
          onLeave();
        }
      }}
    />
  );
}
