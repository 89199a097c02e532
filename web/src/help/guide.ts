/** The guide of docs/guide, a page a place; it comes when it is asked for. */
const PAGES = import.meta.glob<string>("../../../docs/guide/*.md", { query: "?raw", import: "default" });
const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", { query: "?url", import: "default" });

export type Place = "studies" | "study" | "compare" | "table" | "folio";

/** What a page of the guide says. */
export async function pageOf(place: Place): Promise<string> {
  const page = PAGES[`../../../docs/guide/${place}.md`];
  return page ? page() : "";
}

/** The address of a picture of the guide, by its path from there. */
export async function pictureOf(path: string): Promise<string> {
  const picture = PICTURES[path.replace("../screenshots/", "../../../docs/screenshots/")];
  return picture ? picture() : "";
}
