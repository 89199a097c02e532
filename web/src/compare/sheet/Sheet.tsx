import { useEffect, useRef, useState } from "react";
import "../../generated/fonts/fonts.css";
import type { Recipe, Scene } from "../../api/generated";
import { ChooseReadings } from "../ledger/ChooseReadings";
import { CopyNumbers } from "../ledger/CopyNumbers";
import {
  headingRoom,
  LedgerBeside,
  LedgerList,
  LedgerUnder,
  ledgerGap,
  ledgerPlace,
  ledgerWidth,
} from "../ledger/Ledger";
import { useBenchActions, useBenchState, useRights, useShown } from "../store/BenchContext";
import { Figure } from "./Figure";
import { SheetHandles } from "./SheetHandles";
import { type Size, SizeChoice } from "./SizeChoice";

const UNDER = 230;
const MOST_SCALE = 1.6;
const MOST_FULL = 3;
/** The least scale at which the figure stays beside its numbers: smaller where the page is narrow. */
const LEAST_BESIDE = 1.1;
const LEAST_NARROW = 0.9;
/** And over numbers in a list or under the lanes. */
const LEAST_OVER = 1.5;
/** Upright lanes stand whole in the window. */
const LEAST_UP = 1.1;
const NARROW = 700;

/** Room that a list of numbers takes under the figure, in CSS pixels; a long one is scrolled to. */
function listHeight(scene: Scene): number {
  return 90 + (scene.lanes.length <= 8 ? 50 + 24 * scene.lanes.length : 0);
}

/** CSS pixels a point, so that the figure and its numbers fit. */
function fitted(scene: Scene, recipe: Recipe, room: number, tall: number, full: boolean): number {
  const most = full ? MOST_FULL : MOST_SCALE;
  const across = scene.panels[0]?.scale.direction !== "y";
  const least = room < NARROW ? LEAST_NARROW : LEAST_BESIDE;
  // Rather a list of its own under the figure than numbers that leave no room for it; the figure shares its height then.
  const onFigure = scene.parts.some((part) => part.role === "ledger");
  const gap = onFigure ? 0 : ledgerPlace(scene, 1) === "beside" ? ledgerGap(scene, recipe, room, least) : undefined;
  const under = !across ? UNDER : full ? 90 : listHeight(scene);
  const lowest = full ? 0.2 : across ? LEAST_OVER : LEAST_UP;
  const high = gap !== undefined && !full ? most : Math.max(lowest, (tall - under) / scene.height);
  const beside = gap === undefined || onFigure ? 0 : ledgerWidth(scene, recipe, gap);
  return Math.max(0.2, Math.min(most, high, (room - beside) / scene.width));
}

/** The sheet: figure, ledger level with the lanes, method note. */
export function Sheet() {
  const { recipe } = useShown();
  const { change: onSettle, looking } = useRights();
  const { look } = useBenchActions();
  const scene = useBenchState((state) => state.scene);
  const full = useBenchState((state) => state.full);
  const onRow = (row: number) => look({ row });
  const onFull = (next: boolean) => look({ full: next });
  const frame = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(800);
  const [tall, setTall] = useState(600);
  const [size, setSize] = useState<Size>("fitted");
  useEffect(() => {
    if (!frame.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setRoom(entry.contentRect.width);
      setTall(frame.current?.closest("main")?.clientHeight ?? 0);
    });
    watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  const scale = !scene ? 1 : size === "fitted" ? fitted(scene, recipe, room, tall, full) : size;
  // What stands on the figure itself is not said twice.
  const onFigure = scene?.parts.some((part) => part.role === "ledger") ?? false;
  const place = scene && (onFigure ? "figure" : ledgerPlace(scene, scale));
  const numbers = scene && { scene, scale, recipe, onRow, onSettle };
  const gap = scene && place === "beside" ? ledgerGap(scene, recipe, room, scale) : undefined;
  const beside = gap !== undefined;
  return (
    <div className={`mx-auto rounded bg-sheet p-4 shadow-sheet max-xl:p-2.5 ${full ? "" : "max-w-[1100px]"}`}>
      <div ref={frame} className={`min-h-64 ${size === "fitted" ? "" : "overflow-x-auto"}`}>
        {scene && numbers && (
          <div
            className={beside ? "flex items-start gap-3" : ""}
            style={{ paddingTop: beside ? headingRoom(scene, recipe, scale) : 0 }}
          >
            <div className="mx-auto shrink-0" style={{ width: scene.width * scale }}>
              <div className="relative">
                <Figure scene={scene} scale={scale} />
                {!looking && <SheetHandles scene={scene} scale={scale} recipe={recipe} onSettle={onSettle} />}
              </div>
              {place === "under" && <LedgerUnder {...numbers} />}
            </div>
            {beside && <LedgerBeside {...numbers} gap={gap} />}
            {!beside && place !== "under" && place !== "figure" && <LedgerList {...numbers} />}
          </div>
        )}
        {!scene && <p className="p-8 text-muted">Drawing…</p>}
      </div>
      {scene && (
        <div className="mt-3 border-t border-hairline pt-3 text-[13px] text-muted">
          <p data-testid="method-note">{scene.note}</p>
          <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
            <SizeChoice size={size} scale={scale} onSize={setSize} full={full} onFull={onFull} />
            <span className="ml-auto" />
            <ChooseReadings scene={scene} recipe={recipe} onSettle={onSettle} />
            <CopyNumbers scene={scene} />
          </div>
        </div>
      )}
    </div>
  );
}
