import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import type { SignOff } from "../api/generated";
import { Button } from "./Button";
import { Field } from "./Field";
import { Modal } from "./Modal";
import { tell } from "./Notices";
import { PasswordField } from "./PasswordField";

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
  onLock: (signature: Signature) => Promise<unknown>;
  onClose: () => void;
}

/** What a signature says. */
export type Signature = Pick<SignOff, "reason" | "password"> & { meaning: Meaning };

type Meaning = NonNullable<SignOff["meaning"]>;

const MEANINGS: { meaning: Meaning; words: string }[] = [
  { meaning: "written", words: "written by me" },
  { meaning: "reviewed", words: "reviewed by me" },
  { meaning: "approved", words: "approved by me" },
  { meaning: "responsible", words: "on my responsibility" },
];

/** Asks what a signature means and why something is locked for good, and for the password of whoever signs. */
export function LockDialog({ what, onLock, onClose }: DialogProps) {
  const [reason, setReason] = useState("");
  const [meaning, setMeaning] = useState<Meaning>("approved");
  const [password, setPassword] = useState("");
  const { data: me } = useQuery({ queryKey: ["me"], queryFn: () => answer(api.GET("/api/session")) });
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
      <fieldset className="mt-3 grid grid-cols-2 gap-1">
        <legend className="mb-1">It is</legend>
        {MEANINGS.map((each) => (
          <label key={each.meaning} className="flex items-center gap-2">
            <input
              type="radio"
              name="meaning"
              checked={meaning === each.meaning}
              onChange={() => setMeaning(each.meaning)}
            />
            {each.words}
          </label>
        ))}
      </fieldset>
      <div className="mt-3">
        <PasswordField name="Your password" value={password} onChange={setPassword} />
      </div>
      {me && !me.has_password && (
        <p className="mt-2 text-[13px] text-warn">
          You have no password yet.{" "}
          <a href="/account" target="_blank" rel="noreferrer" className="font-bold underline">
            Choose one
          </a>
          , then sign here.
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button look="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button
          disabled={!reason || !password}
          onClick={() => void onLock({ meaning, reason, password }).then(onClose, tell)}
        >
          Sign and lock
        </Button>
      </div>
    </Modal>
  );
}
