import { Popover } from "radix-ui";
import { useState } from "react";
import { Button } from "../ui/Button";

interface Props {
  id: string;
  wide: number;
  gone: boolean;
  onLeaveOut: ((reason: string) => void) | null;
}

/** A row's id at the left; a click offers to leave the row out, with a reason. */
export function RowNumber({ id, wide, gone, onLeaveOut }: Props) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const look =
    "number sticky left-0 z-10 block h-[28px] truncate border-r border-hairline px-3 text-right text-[12px] text-muted bg-inherit";
  if (!onLeaveOut) {
    return (
      <span
        role="rowheader"
        className={`${look} leading-[28px]`}
        style={{ width: wide }}
        title={gone ? `row ${id}, left out` : id}
      >
        {id}
      </span>
    );
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <span role="rowheader" className={look} style={{ width: wide }}>
        <Popover.Trigger
          className="w-full truncate text-right leading-[28px] hover:text-petrol"
          aria-label={`Row ${id}`}
          title={id}
        >
          {id}
        </Popover.Trigger>
      </span>
      <Popover.Portal>
        <Popover.Content align="start" side="right" className="z-30 w-80 rounded-lg bg-sheet p-4 shadow-float">
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (!reason.trim()) return;
              setOpen(false);
              onLeaveOut(reason.trim());
            }}
          >
            <label className="block">
              <strong>Leave out row {id}</strong>
              <span className="block text-[13px] text-muted">
                It stays in sight, struck through, and counts nowhere.
              </span>
              <input
                value={reason}
                onChange={(event) => setReason(event.target.value)}
                placeholder="Reason"
                aria-label="Reason"
                className="input mt-2 w-full"
              />
            </label>
            <Button type="submit" disabled={!reason.trim()} className="mt-3 disabled:opacity-50">
              Leave it out
            </Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
