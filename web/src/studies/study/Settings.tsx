import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { PatchedChangeStudy, StudyState } from "../../api/generated";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";

interface Props {
  study: StudyState;
  owner: boolean;
  change: (body: PatchedChangeStudy) => Promise<void>;
}

/** What owners set for the whole study, and the ways out of it. */
export function Settings({ study, owner, change }: Props) {
  const client = useQueryClient();
  const [, go] = useLocation();
  const [erasing, setErasing] = useState(false);
  const leave = async () => {
    await answer(api.DELETE("/api/studies/{study_id}/people/me", { params: { path: { study_id: study.id } } }));
    await client.invalidateQueries({ queryKey: ["studies"] });
    go("/");
  };
  const days = (text: string) => {
    const bin_days = Number(text);
    if (!Number.isInteger(bin_days) || bin_days < 1 || bin_days > 3650) return false;
    change({ bin_days }).catch(tell);
    return true;
  };
  return (
    <section aria-label="The study as a whole" className="mt-8 grid justify-items-start gap-2">
      <h2 className="text-lg font-bold">The study as a whole</h2>
      {owner && (
        <>
          <label htmlFor="bin-days" className="flex items-baseline gap-2">
            What lies in the bin is erased for good after
            <Field
              id="bin-days"
              inputMode="numeric"
              value={String(study.bin_days)}
              onSettle={days}
              className="number w-14 rounded border border-hairline bg-sheet px-1 text-right"
            />
            days
          </label>
          {!study.archived && (
            <Button look="quiet" className="!p-0" onClick={() => void change({ archived: true }).catch(tell)}>
              Archive the study
            </Button>
          )}
          <Button look="quiet" className="!p-0" onClick={() => setErasing(true)}>
            Erase the study for good
          </Button>
        </>
      )}
      <Button look="quiet" className="!p-0" onClick={() => void leave().catch(tell)}>
        Leave the study
      </Button>
      {erasing && <Erase study={study} onClose={() => setErasing(false)} />}
    </section>
  );
}

/** Tells what goes, and asks for the study's name. */
function Erase({ study, onClose }: { study: StudyState; onClose: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [, go] = useLocation();
  const erase = async () => {
    await answer(
      api.DELETE("/api/studies/{study_id}", { params: { path: { study_id: study.id }, query: { name } } }),
    );
    await client.invalidateQueries({ queryKey: ["studies"] });
    go("/");
  };
  const versions = study.tables.reduce((count, table) => count + 1 + table.earlier.length, 0);
  const signed = study.comparisons.filter((held) => held.locked).length;
  const goes = [
    countOf(study.comparisons.length, "comparison", "comparisons"),
    countOf(versions, "table with its raw file", "tables and versions with their raw files"),
    countOf(study.folios.length, "folio", "folios"),
  ].filter(Boolean);
  return (
    <Modal
      title={`Erase ${study.name}`}
      words="It cannot be taken back. One line in the record says that it was erased, by whom and when."
      className="top-[16vh] w-[34rem] bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void erase().catch(tell);
        }}
      >
        <p>
          {goes.length > 0 ? `What goes: ${goes.join(", ")}, with all trails, remarks and links.` : "It is empty."}
          {signed > 0 && <strong className="text-warn"> {signed} of them signed off.</strong>}
        </p>
        <label className="grid gap-1">
          The study’s name, to be sure
          <input
            value={name}
            onChange={(event) => setName(event.target.value)}
            className="input"
            placeholder={study.name}
          />
        </label>
        <Button type="submit" className="justify-self-start" disabled={name.trim() !== study.name}>
          Erase it for good
        </Button>
      </form>
    </Modal>
  );
}

function countOf(count: number, one: string, many: string): string {
  if (count === 0) return "";
  return count === 1 ? `1 ${one}` : `${count} ${many}`;
}
