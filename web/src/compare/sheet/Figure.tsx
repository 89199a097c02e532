import { type MouseEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Scene } from "../../api/generated";
import { useMotion } from "../../scene/motion";
import { placeOfRow, rowAt } from "../../scene/nearest";
import { laneAt, rowsIn, type Spot, showsRows, spansIn } from "../../scene/places";
import { SceneView } from "../../scene/SceneView";
import { useAdvice } from "../advice/useAdvice";
import { useSelection } from "../rows/useSelection";
import { useBenchActions, useBenchState, useRights, useShown } from "../store/BenchContext";
import { Handles } from "./Handles";
import { LaneNames } from "./LaneNames";
import { PointTip } from "./PointTip";
import { Readout } from "./Readout";
import { Selected } from "./Selected";
import { useBrush } from "./useBrush";
import { WordsInPlace } from "./WordsInPlace";

/** What a brush takes: the rows of points, or parts of lanes where no points are drawn. */
export type Brushed = { keys: number[] } | { spans: { lane: string; low: number; high: number }[] };

/** The figure with all that can be pointed at: points, marks, lanes, names, handles; and a brush over its points. */
export function Figure({ scene, scale }: { scene: Scene; scale: number }) {
  const { recipe } = useShown();
  const { rows, looking, change, rest } = useRights();
  const { id, preview, look } = useBenchActions();
  const row = useBenchState((state) => state.row);
  const layer = useBenchState((state) => state.layer);
  const selection = useSelection();
  const peaks = useAdvice().filter((remark) => remark.key.startsWith("peaks-"));
  const sheet = useRef<HTMLDivElement>(null);
  const [slot, setSlot] = useState<number | null>(null);
  const [lane, setLane] = useState<string | null>(null);
  const [tip, setTip] = useState<(Spot & { row: number }) | null>(null);
  const [column, setColumn] = useState<(Spot & { says: string }) | null>(null);
  useMotion(sheet, scene);
  useLit(sheet, scene, layer);
  const { brush, spotOf, ...pointer } = useBrush(scale, (within, add) => {
    if (!rows) return;
    selection.brush(showsRows(scene) ? { keys: rowsIn(scene, within) } : { spans: spansIn(scene, within) }, add);
  });
  const dragged = useRef(false);
  const lit = row !== null ? placeOfRow(scene, row) : null;
  const readings = scene.readings.filter((reading) => {
    if (tip || column) return false;
    const strip = scene.lanes.find(({ key }) => key === reading.lane);
    return lane !== null ? reading.lane === lane : slot !== null && strip?.slot === slot;
  });

  const onPointerMove = (event: PointerEvent) => {
    pointer.onPointerMove(event);
    if (brush || event.buttons) {
      setLane(null);
      setTip(null);
      setColumn(null);
      return;
    }
    const spot = spotOf(event);
    const over = (event.target as HTMLElement).closest("button, [role=slider]");
    const row = over || !rows ? null : rowAt(scene, spot.x, spot.y);
    setTip(row === null ? null : tip?.row === row ? tip : { ...spot, row });
    const says = over || row !== null ? "" : saysAt(event);
    setColumn(says ? { ...spot, says } : null);
    setLane(over || row !== null ? null : (laneAt(scene, spot)?.key ?? null));
  };
  const onClick = (event: MouseEvent<HTMLElement>) => {
    // The end of a drag is no click on what lies under it.
    if (dragged.current || (event.target as HTMLElement).closest("button, input, [role=slider]")) return;
    const box = event.currentTarget.getBoundingClientRect();
    const at = rowAt(scene, (event.clientX - box.left) / scale, (event.clientY - box.top) / scale);
    if (at !== null && rows) look({ row: at });
    else look({ layer: layerAt(event) });
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions lint/a11y/useKeyWithClickEvents: ledger, layers and rows list are the keyboard way
    <div
      ref={sheet}
      className="group/figure relative mx-auto shrink-0 select-none"
      data-testid="figure"
      style={{ width: scene.width * scale }}
      {...pointer}
      onPointerMove={onPointerMove}
      onPointerUp={(event) => {
        dragged.current = pointer.onPointerUp(event);
      }}
      onPointerLeave={() => {
        setLane(null);
        setTip(null);
        setColumn(null);
      }}
      onClick={onClick}
    >
      <SceneView
        scene={scene}
        scale={scale}
        label={[scene.description, ...peaks.map((peak) => peak.text)].join(" ")}
      />
      {selection.rows && <Selected scene={scene} scale={scale} rows={selection.rows} />}
      {lit && (
        <span
          data-testid="lit"
          className="pointer-events-none absolute size-5 -translate-1/2 rounded-full border-2 border-petrol"
          style={{ left: lit.x * scale, top: lit.y * scale }}
        />
      )}
      {!looking && (
        <>
          <WordsInPlace scene={scene} scale={scale} recipe={recipe} onSettle={change} />
          <LaneNames scene={scene} scale={scale} recipe={recipe} onSettle={change} onLook={setSlot} />
        </>
      )}
      <Handles scene={scene} scale={scale} recipe={recipe} onMove={preview} onRest={rest} onSettle={change} />
      {readings.map((reading) => {
        const strip = scene.lanes.find(({ key }) => key === reading.lane);
        return strip && <Readout key={reading.lane} scene={scene} scale={scale} lane={strip} readings={reading} />;
      })}
      {tip && tip.row !== row && (
        <PointTip key={tip.row} comparison={id} recipe={recipe} row={tip.row} x={tip.x * scale} y={tip.y * scale} />
      )}
      {column && (
        <p
          data-testid="column-tip"
          className="number pointer-events-none absolute z-20 rounded bg-ink px-2.5 py-1.5 text-[12px] whitespace-nowrap text-sheet"
          style={{ left: column.x * scale + 12, top: column.y * scale + 14 }}
        >
          {column.says}
        </p>
      )}
      {brush && (
        <span
          className="pointer-events-none absolute border border-petrol bg-petrol/10"
          style={{
            left: brush.left * scale,
            top: brush.top * scale,
            width: (brush.right - brush.left) * scale,
            height: (brush.bottom - brush.top) * scale,
          }}
        />
      )}
    </div>
  );
}

/** What the topmost column under the pointer tells of itself. */
function saysAt(event: PointerEvent): string {
  for (const element of document.elementsFromPoint(event.clientX, event.clientY)) {
    const says = element.getAttribute("data-says");
    if (says) return says;
  }
  return "";
}

/** The layer of the topmost mark under the pointer. */
function layerAt(event: MouseEvent): string | null {
  for (const element of document.elementsFromPoint(event.clientX, event.clientY)) {
    const mark = element.closest("[data-layer]");
    if (mark) return mark.getAttribute("data-layer");
  }
  return null;
}

/** The marks of the open layer stand out. */
function useLit(sheet: React.RefObject<HTMLDivElement | null>, scene: Scene, layer: string | null): void {
  useEffect(() => {
    const marks = sheet.current?.querySelectorAll("[data-layer]") ?? [];
    for (const mark of marks) mark.classList.toggle("lit", mark.getAttribute("data-layer") === layer);
  }, [sheet, scene, layer]);
}
