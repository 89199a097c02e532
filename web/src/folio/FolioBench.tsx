import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "wouter";
import "../generated/fonts/fonts.css";
import { answer, api } from "../api/client";
import { download } from "../api/download";
import { useFormats } from "../api/useFormats";
import { FileJobProgress } from "../fileJobs/FileJobProgress";
import { useFileJob } from "../fileJobs/useFileJob";
import { SceneView } from "../scene/SceneView";
import { ShareDialog } from "../share/ShareDialog";
import { Button } from "../ui/Button";
import { FormatMenu } from "../ui/FormatMenu";
import { Header } from "../ui/Header";
import { LockBar, LockDialog } from "../ui/LockBar";
import { tell } from "../ui/Notices";
import { FigureList } from "./FigureList";
import { PageOptions } from "./PageOptions";
import { useFolio } from "./useFolio";

const REPORTS = [
  { format: "report html", name: "Report", help: "figures, readings, preparation: one HTML file" },
  { format: "report pdf", name: "Report", help: "the same as PDF" },
];
/** CSS pixels a point, as printed. */
const PRINTED = 96 / 72;

/** A folio: its pages as they will be printed, and what stands on them. */
export function FolioBench({ id }: { id: string }) {
  const { folio, error, pages, busy, keep, lock } = useFolio(id);
  const [sharing, setSharing] = useState(false);
  const [locking, setLocking] = useState(false);
  const { state, start, stop } = useFileJob();
  const formats = useFormats();
  const [, go] = useLocation();
  if (error) return <p className="p-8 text-warn">{error.message}. Go back to all studies.</p>;
  if (!folio) return <p className="p-8 text-muted">Opening…</p>;
  const viewer = folio.role === "viewer";
  const looking = viewer || Boolean(folio.locked);
  const inOneFile = (kind: string) => formats.some(({ name, pages }) => name === kind && pages);
  const menu = formats.map(({ name, title, pages, vector }) => ({
    format: name,
    name: title,
    help: `${pages ? "all pages in one file" : "each page a file"}${vector ? "" : ", 300 dpi"}`,
  }));
  const save = async (kind: string) => {
    if (kind === "report html" || kind === "report pdf")
      return start({ what: "report", folio: id, file_format: kind === "report pdf" ? "pdf" : "html" });
    const count = inOneFile(kind) ? 1 : (pages.data?.length ?? 1);
    for (let page = 1; page <= count; page++) await download(`/api/folios/${id}/export/${kind}?page=${page}`);
  };
  return (
    <div className="flex h-dvh flex-col">
      <title>{`${folio.name} – Echelle`}</title>
      <Header
        place={
          <>
            <Link href="/" className="truncate hover:underline">
              {folio.study_name}
            </Link>
            <span aria-hidden="true">/</span>
            <h1 className="truncate font-bold text-sheet">{folio.name}</h1>
          </>
        }
      >
        {!viewer && (
          <Button look="dark" onClick={() => setSharing(true)} title="A link for people outside the study">
            Share
          </Button>
        )}
        <FormatMenu
          name="Export"
          className="bg-accent font-bold text-ink hover:brightness-105"
          formats={viewer ? menu : [...menu, ...REPORTS]}
          onChoose={(kind) => void save(kind).catch(tell)}
        />
      </Header>
      {state && (
        <div className="border-b border-hairline bg-sheet px-5 py-1.5 text-[13px]">
          <FileJobProgress state={state} onStop={stop} />
        </div>
      )}
      {folio.locked && (
        <LockBar
          locked={folio.locked}
          version={folio.version}
          onGoOn={
            viewer
              ? null
              : () =>
                  answer(api.POST("/api/folios/{folio_id}/versions", { params: { path: { folio_id: id } } })).then(
                    (made) => go(`/folios/${made.id}`),
                  )
          }
        />
      )}
      <div className="flex min-h-0 flex-1">
        <main
          aria-label="Pages"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key
          tabIndex={0}
          className="min-w-0 flex-1 overflow-auto bg-bench p-6"
        >
          {folio.figures.length === 0 && (
            <p className="mx-auto mt-16 max-w-md text-center text-muted">
              Nothing on the page yet. Add comparisons at the right: each becomes a lettered figure that follows its
              comparison.
            </p>
          )}
          {pages.error && <p className="text-warn">{pages.error.message}.</p>}
          {folio.figures.length > 0 && !pages.data && !pages.error && <p className="text-muted">Drawing…</p>}
          {folio.figures.length > 0 && (
            <ol className="grid justify-center gap-6">
              {pages.data?.map((scene, place) => (
                <li key={place} data-testid="page" className="shadow-sheet">
                  <SceneView scene={scene} scale={PRINTED} />
                </li>
              ))}
            </ol>
          )}
        </main>
        <aside
          aria-label="Folio"
          aria-busy={busy}
          className="w-[320px] shrink-0 overflow-x-hidden overflow-y-auto border-l border-hairline bg-[#f9faf8] px-4 py-4 text-[13px]"
        >
          <PageOptions folio={folio} looking={looking} onKeep={keep} />
          <FigureList folio={folio} looking={looking} onFigures={(figures) => keep(() => ({ figures }))} />
          {!looking && (
            <p className="mt-6 border-t border-hairline pt-3">
              <Button
                look="quiet"
                className="!p-0"
                disabled={folio.figures.length === 0}
                onClick={() => setLocking(true)}
              >
                Lock this folio and its report…
              </Button>
            </p>
          )}
          {!looking && <TakeAway folio={id} />}
        </aside>
      </div>
      {locking && <LockDialog what="folio" onLock={lock} onClose={() => setLocking(false)} />}
      {sharing && (
        <ShareDialog
          what={{ folio: id }}
          name={folio.name}
          study={folio.study}
          owner={folio.role === "owner"}
          onClose={() => setSharing(false)}
        />
      )}
    </div>
  );
}

/** Takes the folio away at the second press; its comparisons stay. */
function TakeAway({ folio }: { folio: string }) {
  const [sure, setSure] = useState(false);
  const [, go] = useLocation();
  const client = useQueryClient();
  const away = async () => {
    await answer(api.DELETE("/api/folios/{folio_id}", { params: { path: { folio_id: folio } } }));
    await client.invalidateQueries({ queryKey: ["studies"] });
    go("/");
  };
  return (
    <p className="mt-6 border-t border-hairline pt-3">
      <Button
        look="quiet"
        className="!p-0 !font-normal"
        onClick={() => (sure ? void away().catch(tell) : setSure(true))}
        onBlur={() => setSure(false)}
      >
        {sure ? "Press again to take it away for good" : "Take this folio away"}
      </Button>{" "}
      <span className="text-[12px] text-muted">Its comparisons stay.</span>
    </p>
  );
}
