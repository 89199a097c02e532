/** A moment as its day: "3 Nov 2026". */
export function dayOf(moment: string): string {
  return new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}
