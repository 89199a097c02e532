/** How the figure is seen: as it is, without one kind of cone, or printed in grey. */
export type Sight = "as it is" | "no red cones" | "no green cones" | "no blue cones" | "grey print";

/** Matrices of linear light (Machado, Oliveira & Fernandes 2009, severity 1; grey: ITU-R BT.709). */
export const SIGHTS: Record<Sight, { name: string; matrix: number[] | null }> = {
  "as it is": { name: "as it is", matrix: null },
  "no red cones": {
    name: "with red-blind eyes",
    matrix: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  },
  "no green cones": {
    name: "with green-blind eyes",
    matrix: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  },
  "no blue cones": {
    name: "with blue-blind eyes",
    matrix: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
  },
  "grey print": {
    name: "printed in grey",
    matrix: [0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722],
  },
};

/** The values of an SVG colour matrix. */
export function matrixOf(sight: Sight): string | null {
  const { matrix } = SIGHTS[sight];
  if (!matrix) return null;
  const rows = [0, 3, 6].map((at) => [...matrix.slice(at, at + 3), 0, 0].join(" "));
  return [...rows, "0 0 0 1 0"].join(" ");
}
