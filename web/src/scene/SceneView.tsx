import { useMemo } from "react";
import type { PointsPart, Scene } from "../api/generated";
import { PointsCanvas } from "./PointsCanvas";
import { leaves, type ScenePart } from "./points";
import { SvgPart } from "./SvgPart";

const MOST_SVG_POINTS = 1000;

type Sheet = { key: string; parts: ScenePart[]; points: PointsPart[] };

/** Cut a scene into sheets that lie on one another: SVG, and a canvas wherever a layer has many points. */
function sheetsOf(parts: readonly ScenePart[]): Sheet[] {
  const points = [...leaves(parts)].filter((part) => part.part === "points");
  const many = points.reduce((sum, part) => sum + part.columns.count, 0) > MOST_SVG_POINTS;
  const sheets: Sheet[] = [{ key: "0", parts: [], points: [] }];
  for (const part of parts) {
    const last = sheets[sheets.length - 1] as Sheet;
    last.parts.push(part);
    if (!many || part.part !== "group") continue;
    last.points = [...leaves([part])].filter((leaf) => leaf.part === "points");
    if (last.points.length) sheets.push({ key: String(sheets.length), parts: [], points: [] });
  }
  return sheets;
}

/** Draws any scene, `scale` CSS pixels a point. */
export function SceneView({ scene, scale, label }: { scene: Scene; scale: number; label?: string }) {
  const sheets = useMemo(() => sheetsOf(scene.parts), [scene]);
  const size = { width: scene.width * scale, height: scene.height * scale };
  return (
    <div
      className="relative"
      style={{ ...size, background: scene.ground ?? undefined }}
      role="img"
      aria-label={label ?? scene.description}
    >
      {sheets.map((sheet) => (
        <div key={sheet.key} aria-hidden="true">
          <svg
            className="absolute inset-0 overflow-visible"
            {...size}
            viewBox={`0 0 ${scene.width} ${scene.height}`}
            aria-hidden="true"
          >
            {sheet.parts.map((part) => (
              <SvgPart key={part.key} part={part} skipPoints={sheet.points.length > 0} />
            ))}
          </svg>
          {sheet.points.length > 0 && (
            <PointsCanvas parts={sheet.points} width={scene.width} height={scene.height} scale={scale} />
          )}
        </div>
      ))}
    </div>
  );
}
