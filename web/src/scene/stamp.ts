import type { PointsPart } from "../api/generated";
import { columnsOf, hiddenOf } from "./points";

const SUB = 4;

/** The pixels that a disc covers, as steps in an image `width` px wide from the pixel of its centre. */
interface Sprite {
  steps: Int32Array;
  cover: Uint8Array;
}

/** One sprite for each place of the centre within its pixel, in quarters. Coverage is 0 to 255. */
function sprites(size: number, opacity: number, width: number): { half: number; all: Sprite[] } {
  const radius = size / 2;
  const half = Math.ceil(radius) + 1;
  const all: Sprite[] = [];
  for (let sy = 0; sy < SUB; sy++) {
    for (let sx = 0; sx < SUB; sx++) {
      const steps: number[] = [];
      const cover: number[] = [];
      for (let py = -half; py <= half; py++) {
        for (let px = -half; px <= half; px++) {
          const distance = Math.hypot(px + 0.5 - (sx + 0.5) / SUB, py + 0.5 - (sy + 0.5) / SUB);
          const share = Math.min(1, Math.max(0, radius - distance + 0.5)) * opacity;
          if (share < 1 / 255) continue;
          steps.push(py * width + px);
          cover.push(Math.round(share * 255));
        }
      }
      all.push({ steps: new Int32Array(steps), cover: new Uint8Array(cover) });
    }
  }
  return { half, all };
}

/** Stamps discs into an image of its own, which is used again for the next drawing. */
export class Stamp {
  readonly image: ImageData;
  private readonly strength: Uint8Array;
  private readonly pixels: Uint32Array;

  constructor(width: number, height: number) {
    this.image = new ImageData(width, height);
    this.strength = new Uint8Array(width * height);
    this.pixels = new Uint32Array(this.image.data.buffer);
  }

  clear(): void {
    this.pixels.fill(0);
  }

  /** One part's discs, `scale` px a point. They gather strength where they overlap. */
  discs(part: PointsPart, scale: number): void {
    const { x, y } = columnsOf(part.columns);
    const hidden = hiddenOf(part);
    const { width, height } = this.image;
    const { half, all } = sprites(part.size * scale, part.paint.opacity, width);
    const strength = this.strength;
    let [first, last] = [height, -1];
    for (let i = 0; i < x.length; i++) {
      if (hidden[i] === 1) continue;
      const px = (x[i] as number) * scale;
      const py = (y[i] as number) * scale;
      const left = Math.floor(px);
      const top = Math.floor(py);
      if (left < half || top < half || left + half >= width || top + half >= height) continue;
      if (top - half < first) first = top - half;
      if (top + half > last) last = top + half;
      const { steps, cover } = all[Math.floor((py - top) * SUB) * SUB + Math.floor((px - left) * SUB)] as Sprite;
      const centre = top * width + left;
      for (let k = 0; k < steps.length; k++) {
        const at = centre + (steps[k] as number);
        const under = strength[at] as number;
        strength[at] = under + (((cover[k] as number) * (255 - under) + 127) >> 8);
      }
    }
    if (last >= first) this.colour(part.paint.fill ?? "#000000", first * width, (last + 1) * width);
  }

  /** Turn the gathered strength between two pixels into colour, and forget it. */
  private colour(fill: string, from: number, to: number): void {
    const [r, g, b] = [1, 3, 5].map((at) => Number.parseInt(fill.slice(at, at + 2), 16)) as [
      number,
      number,
      number,
    ];
    const rgb = (b << 16) | (g << 8) | r;
    const strength = this.strength;
    const pixels = this.pixels;
    for (let at = from; at < to; at++) {
      const cover = strength[at] as number;
      if (cover === 0) continue;
      pixels[at] = ((cover << 24) | rgb) >>> 0;
      strength[at] = 0;
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
