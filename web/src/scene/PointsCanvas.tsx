import { useLayoutEffect, useRef } from "react";
import type { PointsPart } from "../api/generated";
import { drawShapes, Stamp } from "./stamp";

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
  const stamp = useRef<Stamp | null>(null);
  const ratio = scale * window.devicePixelRatio;
  useLayoutEffect(() => {
    const target = canvas.current;
    const pen = target?.getContext("2d");
    if (!target || !pen) return;
    const looks = [ratio, width, height, ...parts.map(lookOf)].join(" ");
    if (looks === drawn.current) return;
    drawn.current = looks;
    const [wide, high] = [Math.ceil(width * ratio), Math.ceil(height * ratio)];
    if (stamp.current?.image.width !== wide || stamp.current.image.height !== high) {
      [target.width, target.height] = [wide, high];
      stamp.current = new Stamp(wide, high);
    }
    stamp.current.clear();
    const plain = (part: PointsPart) => part.shape === "circle" && !part.paint.stroke;
    for (const part of parts) if (plain(part)) stamp.current.discs(part, ratio);
    pen.putImageData(stamp.current.image, 0, 0);
    for (const part of parts) if (!plain(part)) drawShapes(pen, part, ratio);
  });
  return (
    <canvas ref={canvas} className="absolute inset-0" style={{ width: width * scale, height: height * scale }} />
  );
}
