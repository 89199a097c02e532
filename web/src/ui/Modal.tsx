import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

interface FrameProps {
  title: ReactNode;
  /** What it is about, under the title. */
  words: ReactNode;
  /** Title and words are heard and not seen. */
  quiet?: boolean;
  /** Where it stands, how wide it is, on what ground. */
  className: string;
  /** In CSS pixels, where that follows what it shows. */
  width?: number;
  children: ReactNode;
}

/** A dialog's window over the darkened page, with its title, what it is about, and a way to close it. */
export function ModalFrame({ title, words, quiet = false, className, width, children }: FrameProps) {
  return (
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/40" />
      <Dialog.Content
        style={width ? { width } : {}}
        className={`fixed left-1/2 z-40 max-w-[96vw] -translate-x-1/2 rounded-lg shadow-float ${className}`}
      >
        <div className={quiet ? "sr-only" : "mb-3 shrink-0 pr-16"}>
          <Dialog.Title className="text-[15px] font-bold">{title}</Dialog.Title>
          <Dialog.Description className="mt-0.5 text-[13px] text-muted">{words}</Dialog.Description>
        </div>
        {children}
        {/* Last, so that the first control of what it shows has the focus. */}
        {!quiet && <Dialog.Close className="absolute top-5 right-5 font-bold text-petrol">Close</Dialog.Close>}
      </Dialog.Content>
    </Dialog.Portal>
  );
}

/** An open dialog. */
export function Modal({ onClose, ...frame }: FrameProps & { onClose: () => void }) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <ModalFrame {...frame} />
    </Dialog.Root>
  );
}
