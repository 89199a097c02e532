/** A typed number, with a point or a comma; null for anything else. */
export function typedNumber(text: string): number | null {
  const typed = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(typed) ? typed : null;
}

/**
 * Several typed numbers, apart by semicolons, blanks, tabs, lines or bars; by commas too where these cannot be decimal marks
 * ("0, 5, 10" or "0,5,10"). Null where a piece is no number, or there is none.
 */
export function typedNumbers(text: string): number[] | null {
  const list = text.trim().replace(/^\[|\]$/g, "");
  const apart = list.includes(";") ? /;/ : /,\s/.test(list) || (list.match(/,/g) ?? []).length > 1 ? /,/ : /[\s|]+/;
  const pieces = list.split(apart).filter((piece) => piece.trim() !== "");
  const numbers = pieces.map(typedNumber);
  return numbers.length && numbers.every((number) => number !== null) ? numbers : null;
}
