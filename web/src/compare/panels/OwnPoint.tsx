import type { ReactNode } from "react";
import { Button } from "../../ui/Button";
import { PickRow } from "../../ui/PickRow";

/** A point of the look; where the figure deviates in it, that is said, with the way back. */
export function OwnPoint(props: { name: string; own: boolean; onReset: () => void; children: ReactNode }) {
  const { name, own, onReset, children } = props;
  return (
    <div>
      {children}
      {own && (
        <p className="flex justify-end gap-2 pt-0.5 text-[12px] text-muted">
          this figure’s own
          <Button
            look="quiet"
            className="!p-0 !font-normal"
            aria-label={`${name}: follow the look again`}
            onClick={onReset}
          >
            Reset
          </Button>
        </p>
      )}
    </div>
  );
}

/** A point that is one of a few words; unpicked it is as the look has it `now`. */
export function OwnPick<T extends string>(props: {
  name: string;
  value: T | null;
  options: readonly T[];
  path: string;
  words?: (option: T) => string;
  now: string;
  onPick: (value: T | null) => void;
}) {
  const { now, ...pick } = props;
  const own = pick.value !== null;
  return (
    <OwnPoint name={pick.name} own={own} onReset={() => pick.onPick(null)}>
      <PickRow {...pick} nothing={own ? "as the look" : `look: ${now}`} />
    </OwnPoint>
  );
}
