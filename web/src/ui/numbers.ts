/** A typed number, with a point or a comma; null for anything else. */
export function typedNumber(text: string): number | null {
  const typed = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(typed) ? typed : null;
}

/** 1448 as 1 448. */
export function spaced(count: number): string {
  return String(count).replace(/\B(?=(\d{3})+$)/g, " ");
}

/** "1 row", "2 rows". */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${spaced(count)} ${count === 1 ? one : many}`;
}
