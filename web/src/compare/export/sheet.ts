import type { Scene } from "../../api/generated";
import type { Settled } from "../store/benchStore";

/** How a figure goes out. */
export interface PictureOptions {
  /** The name of a format. */
  kind: string;
  page: "figure" | "key" | "pages";
  /** Width of the sheet in mm; null keeps the figure's own. */
  width: number | null;
  /** Height in mm; null follows the lanes, or keeps the figure's own. */
  height: number | null;
  dpi: number;
  clear: boolean;
  outlines: boolean;
}

/** Widths that journals and slides commonly ask for, in mm. */
export const WIDTHS = [
  { name: "1 column", width: 85 },
  { name: "1½ columns", width: 114 },
  { name: "2 columns", width: 174 },
  { name: "slide", width: 254 },
];

/** The least and the greatest length of a sheet's side, in mm. */
export const [LEAST_SIDE, MOST_SIDE] = [20, 2_000];

export const DPI = [72, 150, 300, 600, 1200];

/** How a state is drawn, as the server is asked for it. */
export function choicesOf(settled: Settled | null, out: PictureOptions): Record<string, string> {
  return {
    dpi: String(out.dpi),
    page: out.page,
    ...stateOf(settled),
    ...(out.width === null ? {} : { width: `${out.width}mm` }),
    ...(out.width === null || out.height === null ? {} : { height: `${out.height}mm` }),
    ...(out.clear ? { clear: "true" } : {}),
    ...(out.outlines ? { text: "outlines" } : {}),
  };
}

/** The state that leaves, and what it was when it was seen. */
export function stateOf(settled: Settled | null): Record<string, string> {
  return settled ? { entry: String(settled.entry), state: settled.digest } : {};
}

/** Points of 1/72 inch in mm, to a tenth. */
export function millimetres(points: number): number {
  return Math.round((points * 254) / 72) / 10;
}

/** How many dots a picture has, where its sheet is known. */
export function dotsOf(out: PictureOptions, scene: Scene): string {
  const width = out.width ?? millimetres(scene.width);
  return `${Math.ceil((width / 25.4) * out.dpi)
    .toLocaleString("en")
    .replaceAll(",", " ")} dots wide`;
}
