/** A typed number, with a point or a comma; null for anything else. */
export function typedNumber(text: string): number | null {
  const typed = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(typed) ? typed : null;
}
