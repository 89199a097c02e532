import type { Recipe, Setting } from "../../api/generated";
import { withValue } from "../recipe";
import { useBenchActions, useRights, useShown } from "../store/BenchContext";
import { SettingRow } from "./SettingRow";

interface Props {
  settings: Setting[];
  /** Where the part of the recipe stands that they set, and how it is called in paths of settings. */
  at: (string | number)[];
  name: string;
  words?: (setting: Setting) => Record<string, string>;
  onDescribe?: (setting: Setting) => void;
}

/** The settings of one part of the recipe, of those that matter now. */
export function SettingList({ settings, at, name, words, onDescribe }: Props) {
  const { comparison, recipe } = useShown();
  const { change: onSettle, rest: onRest } = useRights();
  const { preview: onMove } = useBenchActions();
  const value = (path: string[]) => valueAt(recipe, [...at, ...path]);
  const changed = (setting: Setting, next: unknown) => withSetting(recipe, at, setting, next);
  return (
    <div className="grid gap-2">
      {settings
        .filter((setting) => matters(recipe, at, setting))
        .map((setting) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: only tells which setting is looked at
          <div
            key={setting.path.join(".")}
            data-path={[name, ...setting.path].join(".")}
            onMouseEnter={() => onDescribe?.(setting)}
            onFocus={() => onDescribe?.(setting)}
          >
            <SettingRow
              setting={setting}
              value={value(setting.path)}
              columns={comparison.columns}
              words={words?.(setting) ?? {}}
              onMove={(next) => onMove(changed(setting, next))}
              onRest={(next) => onRest(changed(setting, next), [...at, ...setting.path].join("."))}
              onSettle={(next) => onSettle(changed(setting, next))}
            />
          </div>
        ))}
    </div>
  );
}

/** Whether a setting matters beside what else is set in its part of the recipe. */
export function matters(recipe: Recipe, at: (string | number)[], setting: Setting): boolean {
  return setting.needs.every(({ path, among, given }) => {
    const now = valueAt(recipe, [...at, ...path]);
    return given === null ? among.includes(String(now)) : (now !== null && now !== undefined) === given;
  });
}

function valueAt(recipe: Recipe, path: (string | number)[]): unknown {
  return path.reduce<unknown>((tree, key) => (tree as Record<string | number, unknown> | null)?.[key], recipe);
}

/** The recipe with one setting changed. A part that may be missing comes and goes with its rule; an option may bring its own reach. */
function withSetting(recipe: Recipe, at: (string | number)[], setting: Setting, value: unknown): Recipe {
  const part = [...at, ...setting.path.slice(0, -1)];
  const reach = setting.reach[String(value)];
  if (setting.whole && value === null) return withValue(recipe, part, null);
  if (setting.whole && valueAt(recipe, part) === null)
    return withValue(recipe, part, { rule: value, k: reach ?? 1.5 });
  const next = withValue(recipe, [...at, ...setting.path], value);
  return reach === undefined ? next : withValue(next, [...part, "k"], reach);
}
