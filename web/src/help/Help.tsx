import type { ReactNode } from "react";
import { Modal } from "../ui/Modal";
import { Guide } from "./Guide";
import type { Place } from "./guide";

const TITLES: Record<Place, string> = {
  studies: "Help: studies",
  study: "Help: a study’s page",
  compare: "Help: comparing",
  table: "Help: a table made ready",
  folio: "Help: a folio",
};

/** Help for the place where one is: what is done here, and what the words mean. */
export function Help({ place, onClose, children }: { place: Place; onClose: () => void; children?: ReactNode }) {
  return (
    <Modal
      title={TITLES[place]}
      words="What is done here, and what the words mean"
      className="top-[7vh] flex max-h-[86vh] w-[46rem] flex-col bg-sheet p-5 text-[13.5px]"
      onClose={onClose}
    >
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key */}
      <div className="min-h-0 flex-1 overflow-y-auto pr-2" tabIndex={0} role="region" aria-label="The guide">
        <Guide place={place} />
        {children}
      </div>
    </Modal>
  );
}
