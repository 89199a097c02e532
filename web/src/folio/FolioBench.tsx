import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "wouter";
import { useStore } from "zustand";
import "../generated/fonts/fonts.css";
import { answer, api, isLong } from "../api/client";
import { download } from "../api/download";
import type { Scene } from "../api/generated";
import { useFormats } from "../api/useFormats";
import { FileJobProgress } from "../fileJobs/FileJobProgress";
import { useFileJob } from "../fileJobs/useFileJob";
import { HelpButton } from "../help/HelpButton";
import { SceneView } from "../scene/SceneView";
import { ShareDialog } from "../share/ShareDialog";
import { Button } from "../ui/Button";
import { FormatMenu } from "../ui/FormatMenu";
import { Header } from "../ui/Header";
import { LockBar, LockDialog } from "../ui/LockBar";
import { tell } from "../ui/Notices";
import { FigureList } from "./FigureList";
import {
  FolioProvider,
  pagesKey,
  useFolio,
  useFolioActions,
  useFolioBench,
  useFolioState,
  usePages,
} from "./FolioContext";
import { PageOptions } from "./PageOptions";

const REPORTS = [
  { format: "report html", name: "Report", help: "figures, readings, preparation: one HTML file" },
  { format: "report pdf", name: "Report", help: "the same as PDF" },
];
/** CSS pixels a point, as printed. */
const PRINTED = 96 / 72;

/** A folio: its pages as they will be printed, and what stands on them. */
export function FolioBench({ id }: { id: string }) {
  const bench = useFolioBench(id);
  const { folio, error } = useStore(bench.store);
  if (error && !folio) return <p className="p-8 text-warn">{error.message}. Go back to all studies.</p>;
  if (!folio) return <p className="p-8 text-muted">Opening…</p>;
  return (
    <FolioProvider bench={bench}>
      <div className="flex h-dvh flex-col">
        <title>{`${folio.name} – Echelle`}</title>
        <FolioHeader />
        <FolioLock />
        <div className="flex min-h-0 flex-1">
          <Pages />
          <FolioPanel />
        </div>
        <FolioDialogs />
      </div>
    </FolioProvider>
  );
}

function FolioHeader() {
  const { folio, viewer } = useFolio();
  const { show } = useFolioActions();
  const { state, start, stop } = useFileJob();
  const client = useQueryClient();
  const formats = useFormats();
  const menu = formats.map(({ name, title, pages, vector }) => ({
    format: name,
    name: title,
    help: `${pages ? "all pages in one file" : "each page a file"}${vector ? "" : ", 300 dpi"}`,
  }));
  const save = async (kind: string) => {
    if (kind === "report html" || kind === "report pdf")
      return start({ what: "report", folio: folio.id, file_format: kind === "report pdf" ? "pdf" : "html" });
    const inOneFile = formats.some(({ name, pages }) => name === kind && pages);
    const pages = client.getQueryData<Scene[]>(pagesKey(folio));
    for (let page = 1; page <= (inOneFile ? 1 : (pages?.length ?? 1)); page++) {
      const saved = download(`/api/folios/${folio.id}/export/${kind}?page=${page}`);
      await saved.catch((fault) => {
        if (!isLong(fault)) throw fault;
        return start({ what: "folio", folio: folio.id, kind, choices: { page: String(page) } });
      });
    }
  };
  return (
    <>
      <Header
        place={
          <>
            <Link href={`/studies/${folio.study}`} className="truncate hover:underline">
              {folio.study_name}
            </Link>
            <span aria-hidden="true">/</span>
            <h1 className="truncate font-bold text-sheet">{folio.name}</h1>
          </>
        }
      >
        {!viewer && (
          <Button look="dark" onClick={() => show("share")} title="A link for people outside the study">
            Share
          </Button>
        )}
        <HelpButton place="folio" />
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
    </>
  );
}

function FolioLock() {
  const { folio, viewer } = useFolio();
  const [, go] = useLocation();
  if (!folio.locked) return null;
  const goOn = () =>
    answer(api.POST("/api/folios/{folio_id}/versions", { params: { path: { folio_id: folio.id } } })).then((made) =>
      go(`/folios/${made.id}`),
    );
  return <LockBar locked={folio.locked} version={folio.version} onGoOn={viewer ? null : goOn} />;
}

function Pages() {
  const { folio } = useFolio();
  const { pages, state, stop } = usePages();
  return (
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
      {pages.error && !state && (
        <p className="text-warn">
          {pages.error.message}.{" "}
          <Button look="quiet" className="!p-0" onClick={() => void pages.refetch()}>
            Draw again
          </Button>
        </p>
      )}
      {folio.figures.length > 0 && !pages.data && !pages.error && !state && <p className="text-muted">Drawing…</p>}
      {state && <FileJobProgress state={state} onStop={stop} />}
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
  );
}

function FolioPanel() {
  const { folio, looking } = useFolio();
  const { show } = useFolioActions();
  const busy = useFolioState((state) => state.pending > 0);
  return (
    <aside
      aria-label="Folio"
      aria-busy={busy}
      className="w-[320px] shrink-0 overflow-x-hidden overflow-y-auto border-l border-hairline bg-[#f9faf8] px-4 py-4 text-[13px]"
    >
      <PageOptions />
      <FigureList />
      {!looking && (
        <p className="mt-6 border-t border-hairline pt-3">
          <Button look="quiet" className="!p-0" disabled={folio.figures.length === 0} onClick={() => show("lock")}>
            Lock this folio and its report…
          </Button>
        </p>
      )}
      {!looking && <TakeAway folio={folio.id} />}
    </aside>
  );
}

function FolioDialogs() {
  const { folio } = useFolio();
  const { lock, show } = useFolioActions();
  const dialog = useFolioState((state) => state.dialog);
  const close = () => show(null);
  if (dialog === "lock") return <LockDialog what="folio" onLock={lock} onClose={close} />;
  if (dialog !== "share") return null;
  return (
    <ShareDialog
      what={{ folio: folio.id }}
      name={folio.name}
      study={folio.study}
      owner={folio.role === "owner"}
      onClose={close}
    />
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
