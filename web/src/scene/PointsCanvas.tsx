import { useLayoutEffect, useRef } from "react";
import type { PointsPart } from "../api/generated";
import { drawDiamonds, stampDiscs } from "./stamp";

interface Props {
  parts: PointsPart[];
  width: number;
  height: number;
  scale: number;
}

/** What decides how a part looks: parts with the same answer are not drawn again. */
function lookOf(part: PointsPart): string {
  const { fill, stroke, opacity } = part.paint;
  return [part.columns.digest, part.hidden, part.shape, part.size, fill, stroke, opacity].join("|");
}

/** Many points: stamped into a typed array, which is drawn once. */
export function PointsCanvas({ parts, width, height, scale }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef("");
  const ratio = scale * window.devicePixelRatio;
  useLayoutEffect(() => {
    const target = canvas.current;
    const pen = target?.getContext("2d");
    if (!target || !pen) return;
    const looks = [ratio, width, height, ...parts.map(lookOf)].join(" ");
    if (looks === drawn.current) return;
    drawn.current = looks;
    target.width = Math.ceil(width * ratio);
    target.height = Math.ceil(height * ratio);
    const image = new ImageData(target.width, target.height);
    for (const part of parts) if (part.shape === "circle") stampDiscs(image, part, ratio);
    pen.putImageData(image, 0, 0);
    for (const part of parts) if (part.shape !== "circle") drawDiamonds(pen, part, ratio);
  });
  return (
    <canvas ref={canvas} className="absolute inset-0" style={{ width: width * scale, height: height * scale }} />
  );
}
