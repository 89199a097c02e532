/** How often a page that is looked at asks for what others changed, in ms. */
export const FOLLOW = 4_000;

/** Of an answer and what is held the newer one: an answer that comes late tells of what was. */
export function newer<T>(answer: T, held: T | null, revision: (state: T) => number): T {
  return held && revision(held) > revision(answer) ? held : answer;
}
