import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import type { StudyCards } from "../api/generated";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { tell } from "../ui/Notices";

/** Begins an empty study, or one in the shape of another: its look, guides and folio pages, without any rows. */
export function NewStudy({ studies }: { studies: StudyCards }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [like, setLike] = useState("");
  const [, go] = useLocation();
  const client = useQueryClient();
  const begin = async () => {
    const made = await answer(api.POST("/api/studies", { body: { name, like: like || null } }));
    await client.invalidateQueries({ queryKey: ["studies"] });
    go(`/studies/${made.id}`);
  };
  return (
    <>
      <Button look="quiet" onClick={() => setOpen(true)}>
        New study
      </Button>
      {open && (
        <Modal
          title="New study"
          words="A study holds tables, comparisons, folios and people. It begins empty."
          className="top-[18vh] w-[32rem] bg-sheet p-5 text-[13px]"
          onClose={() => setOpen(false)}
        >
          <form
            className="grid gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              void begin().catch(tell);
            }}
          >
            <label className="grid gap-1">
              Its name
              <input
                value={name}
                maxLength={200}
                required
                onChange={(event) => setName(event.target.value)}
                className="input"
              />
            </label>
            <label className="grid gap-1">
              In the shape of another
              <select value={like} onChange={(event) => setLike(event.target.value)} className="input">
                <option value="">nothing taken over</option>
                {studies.map((study) => (
                  <option key={study.id} value={study.id}>
                    {study.name}
                  </option>
                ))}
              </select>
            </label>
            {like && (
              <p className="text-muted">
                House style, kept guides, the pages of folios and the steps that prepare tables are taken over: a
                table that fits them is prepared so when it comes. No table, no figure, no people.
              </p>
            )}
            <Button type="submit" className="justify-self-start" disabled={!name.trim()}>
              Begin it
            </Button>
          </form>
        </Modal>
      )}
    </>
  );
}
