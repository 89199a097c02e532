import { Slider } from "radix-ui";
import { useId, useRef } from "react";
import { Field } from "./Field";
import { typedNumber } from "./numbers";

interface Props {
  name: string;
  help: string;
  path?: string;
  value: number;
  least: number;
  most: number;
  step: number;
  /** Every value on the way; nothing is kept of it. */
  onMove: (value: number) => void;
  /** The value that stays once keys rest. */
  onRest: (value: number) => void;
  /** The value that stays. */
  onSettle: (value: number) => void;
}

/** A number as a slider and as a field. The slider covers the usual range, the field takes what the recipe allows. */
export function Amount({ name, help, path, value, least, most, step, onMove, onRest, onSettle }: Props) {
  const id = useId();
  const byKey = useRef(false);
  const settle = (text: string) => {
    const typed = typedNumber(text);
    if (typed !== null) onSettle(typed);
    return typed !== null;
  };
  return (
    <div className="grid grid-cols-[5.6rem_minmax(0,1fr)_3.3rem] items-center gap-2" title={help} data-path={path}>
      <label htmlFor={id}>{name}</label>
      <Slider.Root
        min={least}
        max={most}
        step={step}
        value={[Math.min(Math.max(value, least), most)]}
        onPointerDown={() => {
          byKey.current = false;
        }}
        onKeyDown={() => {
          byKey.current = true;
        }}
        onValueChange={([v]) => v !== undefined && (byKey.current ? onRest(v) : onMove(v))}
        onValueCommit={([v]) => v !== undefined && !byKey.current && onSettle(v)}
        className="relative flex h-5 touch-none items-center"
      >
        <Slider.Track className="h-1 grow rounded-full bg-hairline">
          <Slider.Range className="absolute h-1 rounded-full bg-ink" />
        </Slider.Track>
        <Slider.Thumb aria-label={name} className="block size-4 rounded-full border-2 border-ink bg-sheet" />
      </Slider.Root>
      <Field
        id={id}
        inputMode="decimal"
        value={String(Number(value.toFixed(3)))}
        onSettle={settle}
        className="number w-full rounded border border-transparent bg-transparent px-0.5 text-right hover:border-hairline"
      />
    </div>
  );
}
