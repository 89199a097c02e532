import { Dialog } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";
import { put } from "../api/client";
import type { ComparisonState } from "../api/generated";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { tell } from "../ui/Notices";

/** That a comparison is locked, by whom and why; it goes on as a new version. */
export function LockBar({ comparison, looking }: { comparison: ComparisonState; looking: boolean }) {
  const [, go] = useLocation();
  const goOn = async () => {
    const made = await put<ComparisonState>("POST", `comparisons/${comparison.id}/versions`, {});
    go(`/comparisons/${made.id}`);
  };
  return (
    <section aria-label="Locked" className="flex items-center gap-4 bg-petrol px-5 py-1.5 text-[13px] text-sheet">
      <p>
        <strong>Locked</strong> {comparison.locked}
      </p>
      {!looking && (
        <Button look="dark" className="!py-0.5 underline" onClick={() => void goOn().catch(tell)}>
          Make version {comparison.version + 1}
        </Button>
      )}
    </section>
  );
}

/** Asks why a comparison is locked for good. */
export function LockDialog(props: {
  comparison: string;
  onLocked: (now: ComparisonState) => void;
  onClose: () => void;
}) {
  const { comparison, onLocked, onClose } = props;
  const [reason, setReason] = useState("");
  const lock = async () => {
    onLocked(await put<ComparisonState>("PUT", `comparisons/${comparison}/lock`, { reason }));
    onClose();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/40" />
        <Dialog.Content className="fixed top-[20vh] left-1/2 z-40 w-[28rem] -translate-x-1/2 rounded-lg bg-sheet p-5 text-[14px] shadow-float">
          <Dialog.Title className="font-bold">Lock this comparison</Dialog.Title>
          <Dialog.Description className="mt-1 text-muted">
            What is shown now stays as it is, with your name and the time. It goes on only as a new version; a lock
            cannot be taken off.
          </Dialog.Description>
          <label htmlFor="lock-reason" className="mt-3 grid gap-1">
            Reason
            <Field
              id="lock-reason"
              value={reason}
              maxLength={500}
              placeholder="as submitted"
              onSettle={(text) => {
                setReason(text);
                return true;
              }}
              className="rounded border border-hairline px-2 py-1.5"
            />
          </label>
          <div className="mt-4 flex justify-end gap-2">
            <Button look="quiet" onClick={onClose}>
              Cancel
            </Button>
            <Button disabled={!reason} onClick={() => void lock().catch(tell)}>
              Lock
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
