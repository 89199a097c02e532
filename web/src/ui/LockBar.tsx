import { useState } from "react";
import { Button } from "./Button";
import { Field } from "./Field";
import { Modal } from "./Modal";
import { tell } from "./Notices";

interface BarProps {
  /** By whom, when and why. */
  locked: string;
  version: number;
  /** Begin the next version; null for those who may not. */
  onGoOn: (() => Promise<unknown>) | null;
}

/** That something is locked, by whom and why; it goes on as a new version. */
export function LockBar({ locked, version, onGoOn }: BarProps) {
  return (
    <section aria-label="Locked" className="flex items-center gap-4 bg-petrol px-5 py-1.5 text-[13px] text-sheet">
      <p>
        <strong>Locked</strong> {locked}
      </p>
      {onGoOn && (
        <Button look="dark" className="!py-0.5 underline" onClick={() => void onGoOn().catch(tell)}>
          Make version {version + 1}
        </Button>
      )}
    </section>
  );
}

interface DialogProps {
  /** What is locked: "comparison", "folio". */
  what: string;
  onLock: (reason: string) => Promise<unknown>;
  onClose: () => void;
}

/** Asks why something is locked for good. */
export function LockDialog({ what, onLock, onClose }: DialogProps) {
  const [reason, setReason] = useState("");
  return (
    <Modal
      title={`Lock this ${what}`}
      words="What is shown now stays as it is, with your name and the time. It goes on only as a new version; a lock cannot be taken off."
      className="top-[20vh] w-[28rem] bg-sheet p-5 text-[14px]"
      onClose={onClose}
    >
      <label htmlFor="lock-reason" className="grid gap-1">
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
        <Button disabled={!reason} onClick={() => void onLock(reason).then(onClose, tell)}>
          Lock
        </Button>
      </div>
    </Modal>
  );
}
