import type { Changes } from "../api/generated";
import { say } from "../words";

const MOST_LEVELS = 6;

/** What a newer file changed against the one before it, in words; none where the rows are the same. */
export function changeWords(data: Changes): string[] {
  if (!(data.added || data.gone || data.changed || data.columns_added.length || data.columns_gone.length))
    return [];
  const levels = data.levels.map(({ column, added, gone }) => {
    const names = [...added.map((name) => `+ ${name}`), ...gone.map((name) => `− ${name}`)];
    return `${column}: ${names.slice(0, MOST_LEVELS).join(", ")}`;
  });
  return [
    data.added && say("rows-added", { count: data.added }),
    data.gone && say("rows-gone", { count: data.gone }),
    data.changed && say("rows-changed", { count: data.changed }),
    data.columns_added.length && `new columns ${data.columns_added.join(", ")}`,
    data.columns_gone.length && `columns gone: ${data.columns_gone.join(", ")}`,
    ...levels,
  ].filter((words) => typeof words === "string");
}
