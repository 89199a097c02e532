import type { Scale } from "../api/generated";

const BENDS: Record<Scale["transform"], { forward: (v: number) => number; back: (v: number) => number }> = {
  linear: { forward: (v) => v, back: (v) => v },
  log10: { forward: Math.log10, back: (v) => 10 ** v },
  ln: { forward: Math.log, back: Math.exp },
  "square-root": { forward: Math.sqrt, back: (v) => v * v },
};

/** The coordinate of a value, in points; far outside where the scale has no place for it. */
export function placeOf(scale: Scale, value: number): number {
  const { forward } = BENDS[scale.transform];
  const [v0, v1] = scale.domain.map(forward) as [number, number];
  const [c0, c1] = scale.range;
  const bent = forward(value);
  return Number.isFinite(bent) ? c0 + ((bent - v0) / (v1 - v0)) * (c1 - c0) : c0 - (c1 - c0);
}

/** The value at a coordinate. */
export function valueAtPlace(scale: Scale, place: number): number {
  const { forward, back } = BENDS[scale.transform];
  const [v0, v1] = scale.domain.map(forward) as [number, number];
  const [c0, c1] = scale.range;
  return back(v0 + ((place - c0) / (c1 - c0)) * (v1 - v0));
}
