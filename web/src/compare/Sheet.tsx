import { useEffect, useRef, useState } from "react";
import type { Recipe, Scene } from "../api/generated";
import { placeOfRow, rowAt } from "../scene/nearest";
import { SceneView } from "../scene/SceneView";
import "../generated/fonts/fonts.css";
import { CopyNumbers } from "./CopyNumbers";
import { Handles } from "./Handles";
import { LedgerBeside, LedgerList, LedgerUnder, ledgerPlace } from "./Ledger";

const LEDGER = 326;
const UNDER = 230;
const MOST_SCALE = 1.6;

interface Props {
  scene: Scene | null;
  recipe: Recipe;
  onMove: (recipe: Recipe) => void;
  onSettle: (recipe: Recipe) => void;
  /** A click on a point, by its row. */
  onRow: (row: number) => void;
  /** The row whose card is open: its point is lit. */
  row: number | null;
}

/** The sheet: figure, ledger level with the lanes, method note. */
export function Sheet({ scene, recipe, onMove, onSettle, onRow, row }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(800);
  const [tall, setTall] = useState(600);
  useEffect(() => {
    if (!frame.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setRoom(entry.contentRect.width);
      setTall(frame.current?.closest("main")?.clientHeight ?? 0);
    });
    watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  const across = scene?.panels[0]?.scale.direction !== "y";
  // Lanes that run up share the height with the ledger under them.
  const high = across || !scene ? MOST_SCALE : Math.max(1, (tall - UNDER) / scene.height);
  const wide = scene && ledgerPlace(scene, 1) === "beside" ? room - LEDGER : room;
  const scale = scene ? Math.min(MOST_SCALE, high, wide / scene.width) : 1;
  const ledger = scene && ledgerPlace(scene, scale);
  const lit = scene && row !== null ? placeOfRow(scene, row) : null;
  return (
    <div className="mx-auto max-w-[1100px] rounded bg-sheet p-4 shadow-sheet max-xl:p-3">
      <div ref={frame} className="min-h-64">
        {scene && (
          <div className={ledger === "beside" ? "flex items-start gap-3" : ""}>
            {/* biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: the ledger's counts are the keyboard way */}
            <div
              className="relative mx-auto shrink-0"
              data-testid="figure"
              style={{ width: scene.width * scale }}
              onClick={(event) => {
                // The end of a drag is no click on what lies under it.
                if ((event.target as HTMLElement).closest("[role=slider]")) return;
                const sheet = event.currentTarget.getBoundingClientRect();
                const row = rowAt(scene, (event.clientX - sheet.left) / scale, (event.clientY - sheet.top) / scale);
                if (row !== null) onRow(row);
              }}
            >
              <SceneView scene={scene} scale={scale} />
              {lit && (
                <span
                  data-testid="lit"
                  className="pointer-events-none absolute size-5 -translate-1/2 rounded-full border-2 border-petrol"
                  style={{ left: lit.x * scale, top: lit.y * scale }}
                />
              )}
              <Handles scene={scene} scale={scale} recipe={recipe} onMove={onMove} onSettle={onSettle} />
              {ledger === "under" && <LedgerUnder scene={scene} scale={scale} onRow={onRow} />}
            </div>
            {ledger === "beside" && <LedgerBeside scene={scene} scale={scale} onRow={onRow} />}
            {ledger === "list" && <LedgerList scene={scene} onRow={onRow} />}
          </div>
        )}
        {!scene && <p className="p-8 text-muted">Drawing…</p>}
      </div>
      {scene && (
        <div className="mt-3 flex items-start gap-4 border-t border-hairline pt-3 text-[13px] text-muted">
          <p className="flex-1" data-testid="method-note">
            {scene.note}
          </p>
          <CopyNumbers scene={scene} />
        </div>
      )}
    </div>
  );
}
