import type { ReactNode } from "react";
import type { BoxLayer, PointsLayer, Recipe } from "../api/generated";
import { Amount } from "../ui/Amount";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Row } from "../ui/Row";
import type { PanelProps } from "./panelProps";
import { freeId, withValue } from "./recipe";

const PLACES = {
  across: [
    { value: "above", name: "Above" },
    { value: "on", name: "On" },
    { value: "below", name: "Below" },
  ],
  up: [
    { value: "above", name: "Left" },
    { value: "on", name: "On" },
    { value: "below", name: "Right" },
  ],
} as const;
const SPREADS = [
  { value: "jitter", name: "Jitter" },
  { value: "line", name: "Line" },
] as const;

interface AmountOf {
  path: string[];
  name: string;
  help: string;
  least: number;
  most: number;
  step: number;
}

const BOX: AmountOf[] = [
  {
    path: ["fence", "k"],
    name: "Fence",
    help: "A value is an outlier beyond so many interquartile ranges from the box",
    least: 0,
    most: 4,
    step: 0.05,
  },
  { path: ["width"], name: "Width", help: "How much of the lane the box fills", least: 0.05, most: 1, step: 0.05 },
  {
    path: ["cap"],
    name: "Caps",
    help: "A short bar at the whisker's end, as a share of the box's width",
    least: 0,
    most: 1,
    step: 0.05,
  },
];
const POINTS: AmountOf[] = [
  {
    path: ["width"],
    name: "Width",
    help: "How much of the lane the points may use",
    least: 0,
    most: 1,
    step: 0.05,
  },
  { path: ["size"], name: "Size", help: "Diameter of a point in pt", least: 0.5, most: 8, step: 0.5 },
  {
    path: ["strength"],
    name: "Strength",
    help: "How opaque a point is; weaker points show where many overlap",
    least: 0.05,
    most: 1,
    step: 0.05,
  },
];

/** The layers in the order of the recipe, each with its settings. */
export function LayersPanel({ recipe, onMove, onSettle }: PanelProps) {
  const has = (kind: string) => recipe.layers.some((layer) => layer.layer === kind);
  const add = (layer: BoxLayer | PointsLayer) => onSettle({ ...recipe, layers: [...recipe.layers, layer] });
  return (
    <>
      {recipe.layers.map((layer, place) => (
        <LayerSettings
          key={layer.id}
          layer={layer}
          place={place}
          recipe={recipe}
          onMove={onMove}
          onSettle={onSettle}
        />
      ))}
      <div className="flex gap-2 px-2 py-2">
        {!has("points") && (
          <Button look="quiet" onClick={() => add(usualPoints(freeId(recipe, "p")))}>
            + Points
          </Button>
        )}
        {!has("box") && (
          <Button look="quiet" onClick={() => add(usualBox(freeId(recipe, "b")))}>
            + Box
          </Button>
        )}
      </div>
    </>
  );
}

function LayerSettings({
  layer,
  place,
  recipe,
  onMove,
  onSettle,
}: PanelProps & { layer: Recipe["layers"][number]; place: number }) {
  const changed = (key: readonly string[], value: unknown) => withValue(recipe, ["layers", place, ...key], value);
  const only = recipe.layers.length === 1;
  const title = layer.layer === "box" ? "Box" : "Points";
  return (
    <section aria-label={title} className="border-b border-hairline px-4 py-3">
      <div className="mb-2 flex items-center gap-2">
        <h2 className="text-[15px] font-bold">{title}</h2>
        {!only && (
          <Button
            look="quiet"
            className="ml-auto !p-0 !font-normal"
            onClick={() => onSettle({ ...recipe, layers: recipe.layers.filter((l) => l.id !== layer.id) })}
          >
            Remove
          </Button>
        )}
      </div>
      <Rows>
        {layer.layer === "points" && (
          <Row name="Spread">
            <Choice
              name="Spread"
              value={layer.spread}
              options={SPREADS}
              onChange={(v) => onSettle(changed(["spread"], v))}
            />
          </Row>
        )}
        {(layer.layer === "box" ? BOX : POINTS).map((amount) => (
          <Amount
            key={amount.name}
            {...amount}
            value={
              amount.path.reduce<unknown>((tree, key) => (tree as Record<string, unknown>)[key], layer) as number
            }
            onMove={(v) => onMove(changed(amount.path, v))}
            onSettle={(v) => onSettle(changed(amount.path, v))}
          />
        ))}
        <Row name="Place">
          <Choice
            name="Place"
            value={layer.place}
            options={PLACES[recipe.axis.runs]}
            onChange={(v) => onSettle(changed(["place"], v))}
          />
        </Row>
        {layer.layer === "box" && (
          <Row
            name="Quantile type"
            id={`${layer.id}-type`}
            help="Which of the nine definitions of a quantile (Hyndman & Fan 1996) the quartiles follow"
          >
            <select
              id={`${layer.id}-type`}
              value={layer.quantile_type}
              onChange={(event) => onSettle(changed(["quantile_type"], Number(event.target.value)))}
              className="rounded border border-hairline bg-sheet px-2 py-1"
            >
              {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((type) => (
                <option key={type} value={type}>
                  {type === 7 ? "7 (usual)" : type}
                </option>
              ))}
            </select>
          </Row>
        )}
      </Rows>
    </section>
  );
}

function Rows({ children }: { children: ReactNode }) {
  return <div className="grid gap-2">{children}</div>;
}

function usualPoints(id: string): PointsLayer {
  return {
    id,
    layer: "points",
    shown: true,
    place: "below",
    spread: "jitter",
    width: 0.25,
    seed: 41,
    size: 3,
    strength: 0.6,
  };
}

function usualBox(id: string): BoxLayer {
  return {
    id,
    layer: "box",
    shown: true,
    place: "on",
    quantile_type: 7,
    fence: { rule: "quartiles", k: 1.5 },
    width: 0.5,
    cap: 0,
  };
}
