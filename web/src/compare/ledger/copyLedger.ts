import { Refused } from "../../api/client";
import type { LaneReadings, Scene } from "../../api/generated";

const COLUMNS: [string, (lane: LaneReadings) => number | null][] = [
  ["n", (l) => l.n],
  ["missing", (l) => l.missing],
  ["censored", (l) => l.censored],
  ["min", (l) => l.min],
  ["Q1", (l) => l.q1],
  ["median", (l) => l.median],
  ["Q3", (l) => l.q3],
  ["max", (l) => l.max],
  ["mean", (l) => l.mean],
  ["SD", (l) => l.sd],
  ["beyond", (l) => l.beyond],
];

/** Text that a spreadsheet takes for text: what would run as a formula gets an apostrophe before it. */
function harmless(text: string): string {
  const flat = text.replace(/\s+/g, " ");
  return /^[=+\-@]/.test(flat) ? `'${flat}` : flat;
}

/** All readings with full digits, one line a lane, the lane's name and panel first. */
export function ledgerLines(scene: Scene): string[][] {
  const panelled = scene.panels.length > 1;
  const held = [...new Set(scene.readings.flatMap((lane) => lane.inside.map(({ name }) => name)))];
  const heads = held.flatMap((name) => [`${harmless(name)}: n`, `${harmless(name)}: share`]);
  const head = [...(panelled ? ["panel"] : []), "lane", ...COLUMNS.map(([name]) => name), ...heads];
  const lines = scene.readings.map((readings) => {
    const lane = scene.lanes.find((lane) => lane.key === readings.lane);
    const panel = scene.panels.find((panel) => panel.key === lane?.panel);
    const names = [...(panelled ? [panel?.name ?? ""] : []), lane?.name ?? ""];
    const inside = held.flatMap((name) => {
      const inside = readings.inside.find((guide) => guide.name === name);
      return [String(inside?.count ?? ""), String(inside?.share ?? "")];
    });
    return [...names.map(harmless), ...COLUMNS.map(([, value]) => String(value(readings) ?? "")), ...inside];
  });
  return [head, ...lines];
}

function escaped(text: string): string {
  return text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
}

const REFUSED = {
  what: "The browser did not let the numbers be copied",
  where: "",
  remedy: "Allow the page to use the clipboard, or select the numbers and copy them.",
};

/** Copy the readings as cells for a spreadsheet and as a table for a document. Throws Refused where the browser forbids it. */
export async function copyLedger(scene: Scene): Promise<void> {
  const lines = ledgerLines(scene);
  const text = lines.map((line) => line.join("\t")).join("\n");
  const rows = lines.map((line) => `<tr>${line.map((cell) => `<td>${escaped(cell)}</td>`).join("")}</tr>`);
  const types = {
    "text/plain": new Blob([text], { type: "text/plain" }),
    "text/html": new Blob([`<table>${rows.join("")}</table>`], { type: "text/html" }),
  };
  try {
    await navigator.clipboard.write([new ClipboardItem(types)]);
  } catch {
    throw new Refused(0, REFUSED);
  }
}
