import { useId } from "react";
import type { Recipe, Scene, Style } from "../api/generated";
import { Amount } from "../ui/Amount";
import { Button } from "../ui/Button";
import { Row } from "../ui/Row";
import { HouseStyle } from "./HouseStyle";
import { followed, type OwnLook as Own } from "./ownLook";
import type { PanelProps } from "./panelProps";
import { SIGHTS, type Sight } from "./sight";

type Look = Extract<Recipe["style"], string>;

const LOOKS: { value: Look; name: string }[] = [
  { value: "house", name: "house style" },
  { value: "paper", name: "paper" },
  { value: "slides", name: "slides" },
  { value: "dark slides", name: "dark slides" },
  { value: "grey", name: "grey print" },
  { value: "one hue", name: "one colour" },
];
const MOST_COLOURS = 24;
const TYPEFACES: NonNullable<Own["typeface"]>[] = ["Lato", "Liberation Sans", "Linux Libertine"];
const FIELD = "min-w-0 rounded border border-hairline bg-sheet px-2 py-1";
const AMOUNTS = [
  { key: "text_size", name: "Text, pt", least: 5, most: 16, step: 0.5, help: "Size of names and labels" },
  { key: "weight", name: "Lines", least: 0.4, most: 3, step: 0.1, help: "Times the width of every line" },
  {
    key: "strength",
    name: "Fills",
    least: 0.2,
    most: 1,
    step: 0.05,
    usual: 1,
    help: "Times the opacity of every fill",
  },
] as const;

const CHOICES = [
  {
    key: "rulings",
    name: "Rulings",
    options: [
      [true, "drawn"],
      [false, "none"],
    ],
  },
  {
    key: "axis_line",
    name: "Axis line",
    options: [
      ["data", "as far as the data"],
      ["whole", "the whole panel"],
      ["none", "none"],
    ],
  },
  {
    key: "key",
    name: "Key",
    options: [
      ["above", "above"],
      ["below", "below"],
      ["none", "none"],
    ],
  },
] as const;

interface Props extends PanelProps {
  comparison: string;
  settledHead: () => Promise<unknown>;
  scene: Scene | null;
  study: string;
  /** The look that the kept state is drawn in. */
  style: Style;
  looking: boolean;
  sight: Sight;
  onSight: (sight: Sight) => void;
}

/** The look: a finished one, single points in which this figure deviates, and how it is seen by others. */
export function LookPanel({
  comparison,
  settledHead,
  recipe,
  scene,
  study,
  style,
  looking,
  sight,
  onSight,
  onMove,
  onRest,
  onSettle,
}: Props) {
  const id = useId();
  const own = recipe.own_look;
  const withOwn = (key: keyof Own, value: unknown): Recipe => ({ ...recipe, own_look: { ...own, [key]: value } });
  const named = typeof recipe.style === "string" ? recipe.style : "";
  const deviates = Object.values(own).some((value) => value !== null);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3 px-4 py-4">
      <Row name="Look" id={`${id}look`}>
        <select
          id={`${id}look`}
          value={named}
          onChange={(event) => onSettle({ ...recipe, style: event.target.value as Look })}
          className={FIELD}
        >
          {named === "" && <option value="">its own</option>}
          {LOOKS.map(({ value, name }) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </Row>
      <Row name="Typeface" id={`${id}typeface`}>
        <select
          id={`${id}typeface`}
          value={own.typeface ?? ""}
          onChange={(event) => onSettle(withOwn("typeface", event.target.value || null))}
          className={FIELD}
        >
          <option value="">as the look</option>
          {TYPEFACES.map((typeface) => (
            <option key={typeface}>{typeface}</option>
          ))}
        </select>
      </Row>
      {AMOUNTS.map(({ key, ...amount }) => (
        <Amount
          key={key}
          {...amount}
          value={own[key] ?? style[key]}
          onMove={(value) => onMove(withOwn(key, value))}
          onRest={(value) => onRest(withOwn(key, value), key)}
          onSettle={(value) => onSettle(withOwn(key, value))}
        />
      ))}
      {CHOICES.map(({ key, name, options }) => (
        <Row key={key} name={name} id={`${id}${key}`}>
          <select
            id={`${id}${key}`}
            value={own[key] === null ? "" : String(own[key])}
            onChange={(event) => {
              const found = options.find(([value]) => String(value) === event.target.value);
              onSettle(withOwn(key, found ? found[0] : null));
            }}
            className={FIELD}
          >
            <option value="">as the look</option>
            {options.map(([value, words]) => (
              <option key={words} value={String(value)}>
                {words}
              </option>
            ))}
          </select>
        </Row>
      ))}
      {scene && (
        <LevelColours
          scene={scene}
          recipe={recipe}
          onChange={(column, level, colour) => {
            const known = own.level_colours ?? {};
            onRest(withOwn("level_colours", { ...known, [column]: { ...known[column], [level]: colour } }), level);
          }}
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
      <section aria-label="Seen by others" className="grid gap-2 border-t border-hairline pt-3">
        <Row name="Seen" id={`${id}sight`} help="The figure on screen as others see it; nothing is changed">
          <select
            id={`${id}sight`}
            value={sight}
            onChange={(event) => onSight(event.target.value as Sight)}
            className={FIELD}
          >
            {Object.entries(SIGHTS).map(([key, { name }]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </Row>
      </section>
      {!looking && (
        <HouseStyle
          comparison={comparison}
          study={study}
          recipe={recipe}
          settledHead={settledHead}
          onSettle={onSettle}
        />
      )}
    </div>
  );
}

/** The colours of the levels shown, of subgroups where there are some; a change is kept for this figure alone until it becomes
 * the house style. */
function LevelColours(props: {
  scene: Scene;
  recipe: Recipe;
  onChange: (column: string, level: string, colour: string) => void;
}) {
  const { scene, recipe, onChange } = props;
  const column = (recipe.subgroups ?? recipe.groups)?.column ?? "";
  // Laid over one another with subgroups, lanes have a colour for each pair.
  if (recipe.subgroups && recipe.groups?.placed === "overlaid") return null;
  const found = new Map(scene.lanes.map((lane) => [(recipe.subgroups ? lane.subgroup : lane.group) ?? "", lane]));
  const shown = [...found].slice(0, MOST_COLOURS);
  return (
    <fieldset className="grid min-w-0 grid-cols-[minmax(0,1fr)] gap-1.5">
      <legend className="mb-1">Colours</legend>
      {shown.map(([level, lane], place) => (
        <label key={level} htmlFor={`colour-${place}`} className="flex items-center gap-2">
          <input
            id={`colour-${place}`}
            type="color"
            value={lane.colour.toLowerCase()}
            onChange={(event) => onChange(column, level, event.target.value)}
            className="size-6 rounded border border-hairline bg-sheet"
          />
          <span className="min-w-0 truncate">{level || lane.name}</span>
        </label>
      ))}
    </fieldset>
  );
}
