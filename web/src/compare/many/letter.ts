/** A, B, C … */
export function letter(place: number): string {
  return String.fromCharCode(65 + place);
}
