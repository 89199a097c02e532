import { Button } from "../../ui/Button";

/** Fitted to the window, or so many CSS pixels a point. */
export type Size = "fitted" | number;

/** CSS pixels in a point of 1/72 inch. */
const PRINTED = 96 / 72;
const STEP = 1.25;

interface Props {
  size: Size;
  scale: number;
  onSize: (size: Size) => void;
  full: boolean;
  onFull: (full: boolean) => void;
}

/** How large the figure is drawn: fitted, as printed, larger, smaller, or over the whole window. */
export function SizeChoice({ size, scale, onSize, full, onFull }: Props) {
  const zoom = (by: number) => onSize(Math.min(8, Math.max(0.25, scale * by)));
  const chosen = (on: boolean) => `!p-0 ${on ? "!text-ink" : "!font-normal"}`;
  return (
    <fieldset className="flex items-center gap-3" aria-label="Size on screen">
      <Button look="quiet" className={chosen(size === "fitted")} onClick={() => onSize("fitted")}>
        Fitted
      </Button>
      <Button look="quiet" className={chosen(size === PRINTED)} onClick={() => onSize(PRINTED)}>
        As printed
      </Button>
      <Button look="quiet" className="!p-0" aria-label="Smaller" onClick={() => zoom(1 / STEP)}>
        −
      </Button>
      <span className="number text-[12px]">{Math.round((scale / PRINTED) * 100)} %</span>
      <Button look="quiet" className="!p-0" aria-label="Larger" onClick={() => zoom(STEP)}>
        +
      </Button>
      <Button look="quiet" className={chosen(full)} onClick={() => onFull(!full)} title="Key F; Escape leaves">
        {full ? "Leave full window" : "Full window"}
      </Button>
    </fieldset>
  );
}
