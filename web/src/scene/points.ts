import type { PointColumns, PointsPart, Scene } from "../api/generated";

export type ScenePart = Scene["parts"][number];

/** Coordinates in points, and row ids (empty where the reader may not see rows). */
export interface Columns {
  x: Float32Array;
  y: Float32Array;
  rows: Float64Array;
}

const MOST_HELD = 400;
const held = new Map<string, Columns>();
/** Columns of scenes that carry all of their data, such as miniatures: they live as long as their scene. */
const own = new WeakMap<PointColumns, Columns>();
const NOTHING: Columns = { x: new Float32Array(), y: new Float32Array(), rows: new Float64Array() };

function bytes(text: string | null): ArrayBuffer {
  const binary = atob(text ?? "");
  const out = new Uint8Array(binary.length);
  for (let i = 0; i < binary.length; i++) out[i] = binary.charCodeAt(i);
  return out.buffer;
}

/** The digests whose columns are at hand; the server leaves their data out. */
export function heldDigests(): string[] {
  return [...held.keys()];
}

/** Unpack what came and keep it; the oldest columns leave first, never one of this scene. */
export function keepColumns(scene: Scene): void {
  const here = new Set<string>();
  for (const part of leaves(scene.parts)) {
    if (part.part !== "points") continue;
    const { digest, x, y, rows } = part.columns;
    here.add(digest);
    const old = held.get(digest);
    if (old) {
      held.delete(digest);
      held.set(digest, old);
    } else if (x !== null && y !== null) {
      held.set(digest, unpacked(x, y, rows));
    }
  }
  for (const digest of held.keys()) {
    if (held.size <= MOST_HELD) break;
    if (!here.has(digest)) held.delete(digest);
  }
}

function unpacked(x: string, y: string, rows: string | null): Columns {
  return { x: new Float32Array(bytes(x)), y: new Float32Array(bytes(y)), rows: new Float64Array(bytes(rows)) };
}

/** The columns of a part: those at hand, else its own. */
export function columnsOf(columns: PointColumns): Columns {
  const known = held.get(columns.digest) ?? own.get(columns);
  if (known) return known;
  if (columns.x === null || columns.y === null) return NOTHING;
  const made = unpacked(columns.x, columns.y, columns.rows);
  own.set(columns, made);
  return made;
}

/** 1 at the places that other marks stand for. */
export function hiddenOf(part: PointsPart): Uint8Array {
  const flags = new Uint8Array(part.columns.count);
  for (const place of new Int32Array(bytes(part.hidden))) flags[place] = 1;
  return flags;
}

/** Every part that is no group, in drawing order. */
export function* leaves(parts: readonly ScenePart[]): Generator<Exclude<ScenePart, { part: "group" }>> {
  for (const part of parts) {
    if (part.part === "group") yield* leaves(part.parts);
    else yield part;
  }
}
