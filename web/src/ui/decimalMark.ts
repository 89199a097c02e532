const META = 'meta[name="decimal-mark"]';

/** A text of numbers as ledgers have them, with the decimal mark of whoever reads it (chosen on their account's page). */
export function withOwnMark(text: string): string {
  const comma =
    typeof document !== "undefined" && document.querySelector<HTMLMetaElement>(META)?.content === "comma";
  return comma ? text.replace(/(?<=\d)\.(?=\d)/g, ",") : text;
}
