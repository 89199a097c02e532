import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { answer, api } from "../api/client";
import type { SourceName, StudyCard } from "../api/generated";
import { mayChange } from "../roles";
import { Button } from "../ui/Button";
import { ModalFrame } from "../ui/Modal";
import { studyName, type Target, useUpload } from "./useUpload";

const NEW = "new";

interface Props {
  studies: StudyCard[];
  /** The study to offer first; a new one when left out. */
  first?: string;
  trigger: ReactNode;
}

/** The way in: a dialog for files and pasted cells; dropping or pasting anywhere on the page does the same. */
export function Bring({ studies, first = NEW, trigger }: Props) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [place, setPlace] = useState(first);
  const [over, setOver] = useState(false);
  const { state, start, startAll, startSource, stop } = useUpload();
  const { data: sources } = useQuery({
    queryKey: ["sources"],
    queryFn: () => answer(api.GET("/api/sources")),
    enabled: open,
  });
  const chooser = useRef<HTMLInputElement>(null);
  const open_to = studies.filter((study) => mayChange(study.role));

  const target = (name: string): Target => (place === NEW ? { newStudy: studyName(name) } : { study: place });
  const bringFiles = (files: File[]) => {
    const [first] = files;
    if (!first) return;
    setOpen(false);
    if (files.length === 1) void start(first, first.name, target(first.name));
    else void startAll(files, target(first.name));
  };
  const bringText = (cells: string) => {
    setOpen(false);
    setText("");
    void start(new Blob([cells]), "pasted cells", target("Pasted cells"));
  };

  const bringSource = (source: SourceName) => {
    setOpen(false);
    void startSource(source, target(source.name));
  };

  const latest = useRef({ bringFiles, bringText });
  latest.current = { bringFiles, bringText };
  useEffect(() => {
    const inField = (node: EventTarget | null) =>
      node instanceof HTMLElement && node.closest("input, textarea, [contenteditable]");
    const onPaste = (event: ClipboardEvent) => {
      if (inField(event.target)) return;
      const files = [...(event.clipboardData?.files ?? [])];
      const cells = event.clipboardData?.getData("text/plain") ?? "";
      if (files.length) latest.current.bringFiles(files);
      else if (cells.trim()) latest.current.bringText(cells);
    };
    const onDrag = (event: DragEvent) => {
      if (!event.dataTransfer?.types.includes("Files")) return;
      event.preventDefault();
      setOver(event.type === "dragover");
      if (event.type === "drop") latest.current.bringFiles([...event.dataTransfer.files]);
    };
    const drags = ["dragover", "dragleave", "drop"] as const;
    document.addEventListener("paste", onPaste);
    for (const name of drags) document.addEventListener(name, onDrag);
    return () => {
      document.removeEventListener("paste", onPaste);
      for (const name of drags) document.removeEventListener(name, onDrag);
    };
  }, []);

  return (
    <>
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>
        <ModalFrame
          title="Bring a table"
          words="CSV, TSV, XLSX, ODS, Parquet, Arrow or JSON, or cells copied from a spreadsheet. One row per measurement, one column per group, or one file per group: all of them will do. A bundle (zip) comes in with its preparation and trail."
          className="top-[12vh] w-[40rem] bg-sheet p-5"
        >
          <textarea
            value={text}
            onChange={(event) => setText(event.target.value)}
            placeholder="Paste cells here"
            aria-label="Pasted cells"
            className="number h-44 w-full rounded border border-hairline p-3 text-[13px]"
          />
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <label className="flex items-center gap-2">
              into
              <select
                value={place}
                onChange={(event) => setPlace(event.target.value)}
                className="max-w-60 rounded border border-hairline bg-sheet px-2 py-1.5"
              >
                <option value={NEW}>a new study</option>
                {open_to.map((study) => (
                  <option key={study.id} value={study.id}>
                    {study.name}
                  </option>
                ))}
              </select>
            </label>
            <span className="ml-auto" />
            <Button look="quiet" onClick={() => chooser.current?.click()}>
              Choose a file…
            </Button>
            <Button disabled={!text.trim()} onClick={() => bringText(text)}>
              Read these cells
            </Button>
          </div>
          {sources && sources.length > 0 && (
            <div className="mt-4 flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-hairline pt-3">
              <span className="text-muted">or compare a source of many files:</span>
              {sources.map((source) => (
                <Button key={source.id} look="quiet" className="!p-0" onClick={() => bringSource(source)}>
                  {source.name}
                </Button>
              ))}
            </div>
          )}
        </ModalFrame>
      </Dialog.Root>
      <input
        ref={chooser}
        type="file"
        multiple
        className="hidden"
        aria-label="Table file"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          bringFiles(files);
        }}
      />
      {over && (
        <div className="pointer-events-none fixed inset-3 z-40 grid place-items-center rounded-xl border-4 border-dashed border-petrol bg-sheet/85 text-2xl font-bold text-petrol">
          Drop the table to compare it
        </div>
      )}
      {state && (
        <div role="status" className="fixed right-4 bottom-4 z-40 w-80 rounded-md bg-sheet p-4 shadow-float">
          <div className="flex items-baseline gap-2">
            <span className="truncate font-bold">{state.name}</span>
            <span className="text-muted">{state.id ? "is being read" : "is being sent"}</span>
            <Button look="quiet" className="ml-auto !p-0" onClick={stop}>
              Stop
            </Button>
          </div>
          <progress
            max={1}
            value={state.progress || undefined}
            className="mt-2 h-1.5 w-full overflow-hidden rounded-full [&::-webkit-progress-bar]:bg-hairline [&::-webkit-progress-value]:bg-petrol"
            aria-label="Reading"
          />
        </div>
      )}
    </>
  );
}
