import { useEffect, useState } from "react";
import { Refused } from "../../api/client";
import type { ComparisonState, Scene } from "../../api/generated";
import { FileJobProgress } from "../../fileJobs/FileJobProgress";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";
import type { Settled } from "../store/benchStore";
import { Alongside } from "./Alongside";
import { Many } from "./Many";
import { PictureFields } from "./PictureFields";
import { choicesOf, millimetres, type PictureOptions } from "./sheet";
import { useExport } from "./useExport";

const USUAL: PictureOptions = {
  kind: "svg",
  page: "figure",
  width: null,
  height: null,
  dpi: 300,
  clear: false,
  outlines: false,
};

interface Props {
  comparison: ComparisonState;
  scene: Scene;
  looking: boolean;
  /** The shown state once it is kept. */
  settledHead: () => Promise<Settled | null>;
  /** Sign-off; null where it is not for this person, or done. */
  onLock: (() => void) | null;
  onClose: () => void;
}

interface TrueSizeProps {
  comparison: ComparisonState;
  choices: Record<string, string>;
  alt: string;
  clear: boolean;
}

/** The figure at its true size, as a file or on the clipboard, and what goes with it. */
export function ExportDialog({ comparison, scene, looking, settledHead, onLock, onClose }: Props) {
  const [out, setOut] = useState(USUAL);
  const [settled, setSettled] = useState<Settled | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    settledHead().then(setSettled, tell);
  }, [settledHead]);
  const busily = async (work: () => Promise<unknown>) => {
    setBusy(true);
    await work().catch(tell);
    setBusy(false);
  };
  const { state, bring, save, stop } = useExport(comparison.id, comparison.rows);
  // One picture shows the whole of it.
  const page = out.page === "pages" ? "figure" : out.page;
  const drawn = choicesOf(settled, { ...out, page, outlines: true, dpi: 150 });
  return (
    <Modal
      title="Export"
      words={`At its true size: ${sizeWords(out, scene)}.`}
      className="top-[5vh] flex h-[90vh] w-[70rem] flex-col bg-bench p-5"
      onClose={onClose}
    >
      <div className="-mx-5 -mb-5 flex min-h-0 flex-1 border-t border-hairline">
        <section
          aria-label="The figure at its true size"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key
          tabIndex={0}
          className={`min-w-0 flex-1 overflow-auto p-5 ${out.clear ? "checkered" : ""}`}
        >
          {settled === null && <p role="status">Waiting until what is shown is kept…</p>}
          {settled !== null && (
            <TrueSize
              key={JSON.stringify(drawn)}
              comparison={comparison}
              choices={drawn}
              alt={scene.description}
              clear={out.clear}
            />
          )}
        </section>
        <div className="w-[19rem] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-4 py-4 text-[13px]">
          <PictureFields out={out} scene={scene} onChange={(change) => setOut({ ...out, ...change })} />
          <div className="mt-4 flex gap-2">
            <Button
              disabled={busy || settled === null}
              onClick={() => void busily(() => save(out.kind, choicesOf(settled, out)))}
            >
              Save {out.kind.toUpperCase()}
            </Button>
            <Button
              look="quiet"
              disabled={busy || settled === null}
              onClick={() => void busily(() => copyPicture(bring("png", choicesOf(settled, { ...out, page }))))}
            >
              Copy picture
            </Button>
          </div>
          {state && <FileJobProgress state={state} onStop={stop} />}
          <Alongside
            comparison={comparison.id}
            rows={comparison.rows}
            settled={settled}
            looking={looking}
            onSave={busily}
          />
          {!looking && (
            <Many
              comparison={comparison.id}
              entry={settled?.entry ?? null}
              columns={comparison.columns}
              measure={comparison.recipe.measure.columns[0] ?? ""}
              width={out.width}
              dpi={out.dpi}
            />
          )}
          {onLock && (
            <p className="mt-5 border-t border-hairline pt-3">
              <Button look="quiet" className="!p-0" onClick={onLock}>
                Lock this comparison…
              </Button>{" "}
              <span className="text-[12px] text-muted">signed off, it changes only as a new version</span>
            </p>
          )}
        </div>
      </div>
    </Modal>
  );
}

/** As it is drawn for print: a millimetre is a millimetre. */
function TrueSize({ comparison, choices, alt, clear }: TrueSizeProps) {
  const { state, bring, stop } = useExport(comparison.id, comparison.rows);
  const [asked] = useState({ bring, choices });
  const [drawn, setDrawn] = useState<string | null>(null);
  const [fault, setFault] = useState<Error | null>(null);
  useEffect(() => {
    const address = asked.bring("svg", asked.choices).then(async (file) => {
      if (!file) throw new Error("The drawing was stopped");
      const made = URL.createObjectURL(await file.blob());
      setDrawn(made);
      return made;
    });
    address.catch(setFault);
    return () => void address.then(URL.revokeObjectURL).catch(() => null);
  }, [asked]);
  if (fault)
    return (
      <p role="alert" className="text-warn">
        {fault.message}. {fault instanceof Refused && fault.fault.remedy}
      </p>
    );
  if (state) return <FileJobProgress state={state} onStop={stop} />;
  if (!drawn) return <p role="status">Drawing…</p>;
  return <img src={drawn} alt={alt} className={`max-w-none shadow-float ${clear ? "" : "bg-sheet"}`} />;
}

function sizeWords(out: PictureOptions, scene: Scene): string {
  const width = out.width ?? millimetres(scene.width);
  if (out.height !== null) return `${width} × ${out.height} mm`;
  return out.width === null && out.page === "figure"
    ? `${width} × ${millimetres(scene.height)} mm`
    : `${width} mm wide, as high as it needs to be`;
}

async function copyPicture(file: Promise<Response | null>): Promise<void> {
  const picture = file.then((made) => made?.blob() ?? Promise.reject(new Error("stopped")));
  await navigator.clipboard.write([new ClipboardItem({ "image/png": picture })]).catch(async (fault) => {
    // Whoever stopped it knows.
    if (await file) throw fault;
  });
}
