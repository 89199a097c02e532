import type { Recipe, Scene } from "../../api/generated";
import { Amount } from "../../ui/Amount";
import { Button } from "../../ui/Button";
import { PickRow } from "../../ui/PickRow";
import { SIGHTS, type Sight } from "../sight";
import { useBenchActions, useBenchState, useRights, useShown } from "../store/BenchContext";
import { ColourSequence } from "./ColourSequence";
import { HouseStyle } from "./HouseStyle";
import { OwnPick, OwnPoint } from "./OwnPoint";
import { followed, type OwnLook as Own, withoutLevel } from "./ownLook";
import { SheetSize } from "./SheetSize";

type Look = Extract<Recipe["style"], string>;

const LOOKS: Look[] = ["house", "paper", "slides", "dark slides", "grey print", "one colour"];
const AXIS_LINES = { data: "the data", whole: "the whole panel", none: "none" };
const MOST_COLOURS = 24;
const TYPEFACES: NonNullable<Own["typeface"]>[] = ["Lato", "Inter", "Liberation Sans", "Linux Libertine"];
const AMOUNTS = [
  { key: "text_size", name: "Text, pt", least: 5, most: 16, step: 0.5, help: "Size of names and labels" },
  { key: "weight", name: "Line weight", least: 0.4, most: 3, step: 0.1, help: "Times the width of every line" },
  {
    key: "strength",
    name: "Opacity",
    least: 0.2,
    most: 1,
    step: 0.05,
    help: "Times the opacity of every fill",
  },
] as const;

/** The look: a finished one, single points in which this figure deviates, and how it is seen by others. */
export function LookPanel() {
  const { comparison, recipe } = useShown();
  const { looking, change: onSettle, rest: onRest } = useRights();
  const { preview: onMove, look: lookAt } = useBenchActions();
  const scene = useBenchState((state) => state.scene);
  const sight = useBenchState((state) => state.sight);
  const onSight = (next: Sight) => lookAt({ sight: next });
  // The look that the kept state is drawn in.
  const { style } = comparison;
  const own = recipe.own_look;
  const withOwn = (key: keyof Own, value: unknown): Recipe => ({ ...recipe, own_look: { ...own, [key]: value } });
  const deviates = Object.values(own).some((value) => value !== null);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 px-4 py-4">
      <PickRow
        name="Look"
        path="style"
        value={typeof recipe.style === "string" ? recipe.style : null}
        options={LOOKS}
        words={(look) => (look === "house" ? "house style" : look)}
        {...(typeof recipe.style === "string" ? {} : { nothing: "its own" })}
        onPick={(look) => look && onSettle({ ...recipe, style: look })}
      />
      <OwnPick
        name="Typeface"
        path="own_look.typeface"
        value={own.typeface}
        options={TYPEFACES}
        now={style.typeface}
        onPick={(typeface) => onSettle(withOwn("typeface", typeface))}
      />
      {AMOUNTS.map(({ key, ...amount }) => (
        <OwnPoint key={key} name={amount.name} own={own[key] !== null} onReset={() => onSettle(withOwn(key, null))}>
          <Amount
            {...amount}
            path={`own_look.${key}`}
            value={own[key] ?? style[key]}
            onMove={(value) => onMove(withOwn(key, value))}
            onRest={(value) => onRest(withOwn(key, value), key)}
            onSettle={(value) => onSettle(withOwn(key, value))}
          />
        </OwnPoint>
      ))}
      <OwnPick
        name="Rulings"
        path="own_look.rulings"
        value={own.rulings === null ? null : own.rulings ? "drawn" : "none"}
        options={["drawn", "none"] as const}
        now={style.rulings ? "drawn" : "none"}
        onPick={(picked) => onSettle(withOwn("rulings", picked && picked === "drawn"))}
      />
      <OwnPick
        name="Axis line"
        path="own_look.axis_line"
        value={own.axis_line}
        options={["data", "whole", "none"] as const}
        words={(line) => AXIS_LINES[line]}
        now={AXIS_LINES[style.axis_line]}
        onPick={(line) => onSettle(withOwn("axis_line", line))}
      />
      <OwnPick
        name="Key"
        path="own_look.key"
        value={own.key}
        options={["above", "below", "none"] as const}
        now={style.key}
        onPick={(place) => onSettle(withOwn("key", place))}
      />
      <ColourSequence own={own} onSettle={(colours) => onSettle({ ...recipe, own_look: { ...own, ...colours } })} />
      {scene && (
        <LevelColours
          scene={scene}
          recipe={recipe}
          onChange={(column, level, colour) => {
            const known = own.level_colours ?? {};
            onRest(withOwn("level_colours", { ...known, [column]: { ...known[column], [level]: colour } }), level);
          }}
          onReset={(column, level) => onSettle(withOwn("level_colours", withoutLevel(own, column, level)))}
        />
      )}
      {deviates && (
        <p className="text-muted">
          This figure deviates from its look.{" "}
          <Button look="quiet" className="!p-0" onClick={() => onSettle({ ...recipe, own_look: followed(own) })}>
            Follow it again
          </Button>
        </p>
      )}
      <SheetSize />
      <section aria-label="Seen by others" className="grid gap-2 border-t border-hairline pt-3">
        <PickRow
          name="Seen"
          help="The figure on screen as others see it; nothing is changed"
          value={sight}
          options={Object.keys(SIGHTS) as Sight[]}
          words={(sight) => SIGHTS[sight].name}
          onPick={(sight) => sight && onSight(sight)}
        />
      </section>
      {!looking && <HouseStyle />}
    </div>
  );
}

/** The colours of the levels shown, of subgroups where there are some; a change is kept for this figure alone until it becomes
 * the house style. */
function LevelColours(props: {
  scene: Scene;
  recipe: Recipe;
  onChange: (column: string, level: string, colour: string) => void;
  onReset: (column: string, level: string) => void;
}) {
  const { scene, recipe, onChange, onReset } = props;
  const column = (recipe.subgroups ?? recipe.groups)?.column ?? "";
  // Laid over one another with subgroups, lanes have a colour for each pair.
  if (recipe.subgroups && recipe.groups?.placed === "overlaid") return null;
  const laneOf = new Map(scene.lanes.map((lane) => [(recipe.subgroups ? lane.subgroup : lane.group) ?? "", lane]));
  const shown = [...laneOf].slice(0, MOST_COLOURS);
  return (
    <fieldset className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-1.5" data-path="own_look.level_colours">
      <legend className="mb-1">Colours</legend>
      {shown.map(([level, lane], place) => (
        <OwnPoint
          key={level}
          name={level || lane.name}
          own={recipe.own_look.level_colours?.[column]?.[level] !== undefined}
          onReset={() => onReset(column, level)}
        >
          <label htmlFor={`colour-${place}`} className="flex items-center gap-2">
            <input
              id={`colour-${place}`}
              type="color"
              value={lane.colour.toLowerCase()}
              onChange={(event) => onChange(column, level, event.target.value)}
              className="size-6 shrink-0 rounded border border-hairline bg-sheet"
            />
            <span className="min-w-0 truncate">{level || lane.name}</span>
          </label>
        </OwnPoint>
      ))}
    </fieldset>
  );
}
