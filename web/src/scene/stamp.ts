import type { PointsPart } from "../api/generated";
import { columnsOf, hiddenOf } from "./points";
import { OUTLINES } from "./shapes";

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

/** A colour laid over a pixel (alpha, blue, green, red from the highest byte): parts that overlap blend. */
function over(under: number, cover: number, rgb: number): number {
  const below = under >>> 24;
  if (below === 0) return ((cover << 24) | rgb) >>> 0;
  const rest = (below * (255 - cover)) / 255;
  const alpha = cover + rest;
  let mixed = Math.round(alpha) << 24;
  for (const shift of [0, 8, 16]) {
    const channel = (((rgb >> shift) & 255) * cover + ((under >> shift) & 255) * rest) / alpha;
    mixed |= Math.round(channel) << shift;
  }
  return mixed >>> 0;
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
        // OpenDialog 255 and rounded, without a division.
        const more = (cover[k] as number) * (255 - under) + 128;
        strength[at] = under + ((more + (more >> 8)) >> 8);
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
      pixels[at] = over(pixels[at] as number, cover, rgb);
      strength[at] = 0;
    }
  }
}

/** Draw one part's marks with the canvas' own pen: shapes, and discs with an edge. */
export function drawShapes(pen: CanvasRenderingContext2D, part: PointsPart, scale: number): void {
  const { x, y } = columnsOf(part.columns);
  const hidden = hiddenOf(part);
  const size = part.size * scale;
  pen.globalAlpha = part.paint.opacity;
  pen.fillStyle = part.paint.fill ?? "none";
  pen.strokeStyle = part.paint.stroke ?? "none";
  pen.lineWidth = part.paint.stroke_width * scale;
  for (let i = 0; i < x.length; i++) {
    if (hidden[i] === 1) continue;
    const [px, py] = [(x[i] as number) * scale, (y[i] as number) * scale];
    pen.beginPath();
    if (part.shape === "circle") pen.arc(px, py, size / 2, 0, 2 * Math.PI);
    for (const { corners, closed } of OUTLINES[part.shape]) {
      corners.forEach(([dx = 0, dy = 0], k) => {
        if (k === 0) pen.moveTo(px + dx * size, py + dy * size);
        else pen.lineTo(px + dx * size, py + dy * size);
      });
      if (closed) pen.closePath();
    }
    if (part.paint.fill) pen.fill();
    if (part.paint.stroke) pen.stroke();
  }
  pen.globalAlpha = 1;
}
