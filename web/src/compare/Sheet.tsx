import { useEffect, useRef, useState } from "react";
import type { Recipe, Scene } from "../api/generated";
import { SceneView } from "../scene/SceneView";
import "../generated/fonts/fonts.css";
import { Handles } from "./Handles";
import { LedgerBeside, LedgerUnder } from "./Ledger";

const LEDGER = 326;
const UNDER = 230;
const MOST_SCALE = 1.6;

interface Props {
  scene: Scene | null;
  recipe: Recipe;
  onMove: (recipe: Recipe) => void;
  onSettle: (recipe: Recipe) => void;
}

/** The sheet: figure, ledger level with the lanes, method note. */
export function Sheet({ scene, recipe, onMove, onSettle }: Props) {
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
  const scale = scene ? Math.min(MOST_SCALE, high, (across ? room - LEDGER : room) / scene.width) : 1;
  return (
    <div className="mx-auto max-w-[1100px] rounded bg-sheet p-4 shadow-sheet max-xl:p-3">
      <div ref={frame} className="min-h-64">
        {scene && (
          <div className={across ? "flex items-start gap-3" : ""}>
            <div className="relative mx-auto shrink-0" data-testid="figure" style={{ width: scene.width * scale }}>
              <SceneView scene={scene} scale={scale} />
              <Handles scene={scene} scale={scale} recipe={recipe} onMove={onMove} onSettle={onSettle} />
              {!across && <LedgerUnder scene={scene} scale={scale} />}
            </div>
            {across && <LedgerBeside scene={scene} scale={scale} />}
          </div>
        )}
        {!scene && <p className="p-8 text-muted">Drawing…</p>}
      </div>
      {scene && (
        <p className="mt-3 border-t border-hairline pt-3 text-[13px] text-muted" data-testid="method-note">
          {scene.note}
        </p>
      )}
    </div>
  );
}
