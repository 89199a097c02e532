import type { PointsPart } from "../api/generated";
import { columnsOf, hiddenOf } from "./points";

const SUB = 4;

/** Coverage (0 to 255) of a disc of diameter `size` px whose centre lies at a quarter pixel. */
function discs(size: number, opacity: number): { side: number; masks: Uint8Array[] } {
  const radius = size / 2;
  const side = Math.ceil(size) + 2;
  const masks: Uint8Array[] = [];
  for (let sy = 0; sy < SUB; sy++) {
    for (let sx = 0; sx < SUB; sx++) {
      const mask = new Uint8Array(side * side);
      const cx = Math.floor(side / 2) + (sx + 0.5) / SUB;
      const cy = Math.floor(side / 2) + (sy + 0.5) / SUB;
      for (let py = 0; py < side; py++) {
        for (let px = 0; px < side; px++) {
          const distance = Math.hypot(px + 0.5 - cx, py + 0.5 - cy);
          const cover = Math.min(1, Math.max(0, radius - distance + 0.5));
          mask[py * side + px] = Math.round(cover * opacity * 255);
        }
      }
      masks.push(mask);
    }
  }
  return { side, masks };
}

/** Stamp one part's discs into an image, `scale` px a point. Equal colours gather strength where they overlap. */
export function stampDiscs(image: ImageData, part: PointsPart, scale: number): void {
  const { x, y } = columnsOf(part.columns);
  const hidden = hiddenOf(part);
  const { side, masks } = discs(part.size * scale, part.paint.opacity);
  const half = Math.floor(side / 2);
  const { width, height, data } = image;
  const colour = part.paint.fill ?? "#000000";
  const [r, g, b] = [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as [
    number,
    number,
    number,
  ];
  for (let i = 0; i < x.length; i++) {
    if (hidden.has(i)) continue;
    const px = (x[i] as number) * scale;
    const py = (y[i] as number) * scale;
    const left = Math.floor(px);
    const top = Math.floor(py);
    const mask = masks[Math.floor((py - top) * SUB) * SUB + Math.floor((px - left) * SUB)] as Uint8Array;
    if (left < half || top < half || left + half >= width || top + half >= height) continue;
    let from = 0;
    for (let row = top - half; row < top - half + side; row++) {
      let to = (row * width + left - half) * 4;
      for (let column = 0; column < side; column++, from++, to += 4) {
        const cover = mask[from] as number;
        if (cover === 0) continue;
        const under = data[to + 3] as number;
        data[to] = r;
        data[to + 1] = g;
        data[to + 2] = b;
        data[to + 3] = under + (cover * (255 - under)) / 255;
      }
    }
  }
}

/** Draw one part's diamonds with the canvas' own pen. */
export function drawDiamonds(pen: CanvasRenderingContext2D, part: PointsPart, scale: number): void {
  const { x, y } = columnsOf(part.columns);
  const reach = Math.SQRT1_2 * 0.95 * part.size * scale;
  pen.beginPath();
  for (let i = 0; i < x.length; i++) {
    const px = (x[i] as number) * scale;
    const py = (y[i] as number) * scale;
    pen.moveTo(px, py - reach);
    pen.lineTo(px + reach, py);
    pen.lineTo(px, py + reach);
    pen.lineTo(px - reach, py);
    pen.closePath();
  }
  if (part.paint.fill) {
    pen.fillStyle = part.paint.fill;
    pen.fill();
  }
  if (part.paint.stroke) {
    pen.strokeStyle = part.paint.stroke;
    pen.lineWidth = part.paint.stroke_width * scale;
    pen.stroke();
  }
}
