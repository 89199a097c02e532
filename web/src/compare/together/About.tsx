import { useQuery } from "@tanstack/react-query";
import { Link } from "wouter";
import { answer, api } from "../../api/client";
import type { PatchedChangeComparison, UseVersion } from "../../api/generated";
import { Miniature } from "../../scene/Miniature";
import { dayOf } from "../../studies/days";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { Notes } from "../../ui/Notes";
import { tell } from "../../ui/Notices";
import { TagForm } from "../../ui/TagForm";
import { versionsSideBySide } from "../many/sides";
import { useBenchActions, useComparison, useRights } from "../store/BenchContext";

/** What belongs to a comparison besides its figure: notes, tags, its versions side by side, and where it is used. */
export function About({ onClose }: { onClose: () => void }) {
  const comparison = useComparison();
  const { member } = useRights();
  const { id, take, look } = useBenchActions();
  const params = { path: { comparison_id: id } };
  const { data: uses } = useQuery({
    queryKey: ["uses", id, comparison.revision],
    queryFn: () => answer(api.GET("/api/comparisons/{comparison_id}/uses", { params })),
    staleTime: 0,
  });
  const change = async (body: PatchedChangeComparison) =>
    take(await answer(api.PATCH("/api/comparisons/{comparison_id}", { params, body })));
  const sideBySide = (versions: UseVersion[]) => look({ dialog: versionsSideBySide(versions) });
  return (
    <Modal
      title={`About ${comparison.name}`}
      words="Notes, tags, versions, and where the figure is used"
      className="top-[8vh] max-h-[84vh] w-[46rem] overflow-y-auto bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      <div className="grid gap-5">
        <section aria-label="Notes">
          <h3 className="mb-1 font-bold">Notes</h3>
          <Notes text={comparison.notes} what="comparison" onText={member ? (notes) => change({ notes }) : null} />
          {!comparison.notes && !member && <p className="text-muted">None.</p>}
        </section>
        <section aria-label="Tags">
          <h3 className="mb-1 font-bold">Tags</h3>
          <Tags tags={comparison.tags} onTags={member ? (tags) => change({ tags }) : null} />
        </section>
        {uses && (
          <section aria-label="Versions">
            <div className="mb-1 flex items-baseline gap-4">
              <h3 className="font-bold">Versions</h3>
              {uses.versions.length > 1 && (
                <Button look="quiet" className="!p-0" onClick={() => sideBySide(uses.versions)}>
                  Side by side, with what differs in their numbers
                </Button>
              )}
            </div>
            {uses.versions.length < 2 ? (
              <p className="text-muted">This is the only one. What is signed off goes on as a new version.</p>
            ) : (
              <ol className="grid gap-2">
                {uses.versions.map((version) => (
                  <li key={version.id} className="flex gap-4">
                    <Link
                      href={`/comparisons/${version.id}`}
                      aria-current={version.id === id ? "page" : undefined}
                      className="block w-[150px] shrink-0 rounded border border-hairline p-2 hover:shadow-sheet aria-[current]:outline-2 aria-[current]:outline-ink"
                    >
                      <span className="grid h-[92px] place-items-center" aria-hidden="true">
                        <Miniature comparison={version.id} state={version.changed} scale={1.3} />
                      </span>
                      <strong>Version {version.version}</strong>
                      <span className="block text-muted">
                        {dayOf(version.changed)}
                        {version.locked && ", signed off"}
                      </span>
                    </Link>
                    <p className="self-center">
                      {version.version === 1
                        ? "The first."
                        : version.words.length === 0
                          ? "As the version before it."
                          : version.words.join("; ")}
                    </p>
                  </li>
                ))}
              </ol>
            )}
          </section>
        )}
        {uses && (
          <section aria-label="Where it is used">
            <h3 className="mb-1 font-bold">Where it is used</h3>
            {uses.folios.length + uses.links === 0 && (
              <p className="text-muted">On no folio, and no link leads here.</p>
            )}
            <ul className="grid gap-1">
              {uses.folios.map((folio) => (
                <li key={folio.id}>
                  <Link href={`/folios/${folio.id}`} className="font-bold text-petrol hover:underline">
                    {folio.name}
                  </Link>{" "}
                  <span className="text-muted">folio</span>
                </li>
              ))}
              {uses.links > 0 && (
                <li className="text-muted">
                  {uses.links === 1 ? "1 open link leads" : `${uses.links} open links lead`} to it
                </li>
              )}
            </ul>
          </section>
        )}
      </div>
    </Modal>
  );
}

function Tags({ tags, onTags }: { tags: string[]; onTags: ((tags: string[]) => Promise<void>) | null }) {
  const set = (next: string[]) => void onTags?.(next).catch(tell);
  return (
    <div className="flex flex-wrap items-center gap-2">
      {tags.length === 0 && !onTags && <span className="text-muted">None.</span>}
      {tags.map((held) => (
        <span key={held} className="flex items-center gap-1.5 rounded bg-rail px-2 py-0.5">
          {held}
          {onTags && (
            <button
              type="button"
              aria-label={`Take off the tag ${held}`}
              onClick={() => set(tags.filter((other) => other !== held))}
              className="text-muted hover:text-ink"
            >
              ✕
            </button>
          )}
        </span>
      ))}
      {onTags && (
        <TagForm
          label="Another tag"
          hint="Another, in own words"
          name="Tag it"
          onTag={(tag) => set([...tags, tag])}
        />
      )}
    </div>
  );
}
