/** The messages of the core's catalogue that the page says: it gets these, and what they hold. */
export const SAID = [
  "advice-dismissed",
  "advice-rest",
  "cells-guarded",
  "count-columns",
  "count-limits",
  "count-remarks",
  "count-rows",
  "keys-matched",
  "reading-beyond",
  "reading-difference",
  "reading-name",
  "reading-reference",
  "rows-added",
  "rows-changed",
  "rows-gone",
] as const;

export type Said = (typeof SAID)[number];
