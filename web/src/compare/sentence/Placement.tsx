import { useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { OptionWord } from "./OptionWord";

/** How the lanes of a role stand to one another. */
export function Placement({ part, keys }: { part: "groups" | "subgroups"; keys: string | null }) {
  const { recipe } = useShown();
  const { change } = useRights();
  const setting = useFigureOptions()
    ?.parts.find((offer) => offer.part === part)
    ?.settings.find(({ path }) => path[0] === "placed");
  const role = recipe[part];
  if (!setting || !role) return null;
  const { words } = setting;
  return (
    <OptionWord<string>
      name={part === "groups" ? "Groups stand" : "Subgroups stand"}
      path={`${part}.placed`}
      value={role.placed}
      options={setting.options.map(String)}
      words={(option) => words[option] ?? option}
      {...(keys ? { keys } : {})}
      onChoose={(placed) => change({ ...recipe, [part]: { ...role, placed } })}
    />
  );
}
