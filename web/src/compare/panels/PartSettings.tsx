import type { Recipe } from "../../api/generated";
import { useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { SettingList } from "./SettingList";

/** Parts of the recipe, besides its layers, whose settings the server describes. */
export type Part = keyof Recipe & ("measure" | "groups" | "subgroups" | "panels" | "axis" | "second_axis");

/** The settings that levels of panels share with groups: their order, and dates by a part of them. */
export function LevelSettings({ at, dates }: { at: [string, string]; dates: boolean }) {
  const offer = useFigureOptions()?.parts.find((offer) => offer.part === "groups");
  const shared = ["sorted", ...(dates ? ["dates"] : [])];
  const settings = offer?.settings.filter(({ path }) => shared.includes(path.join("."))) ?? [];
  return <SettingList settings={settings} at={at} name={at.join(".")} />;
}

/** The settings of a part of the recipe; none while the part is not there. */
export function PartSettings({ part, but = [] }: { part: Part; but?: string[] }) {
  const { recipe } = useShown();
  const offer = useFigureOptions()?.parts.find((offer) => offer.part === part);
  if (!offer || !recipe[part]) return null;
  return (
    <SettingList
      settings={offer.settings.filter((setting) => !but.includes(setting.path.join(".")))}
      at={[part]}
      name={part}
    />
  );
}
