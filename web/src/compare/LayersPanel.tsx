import type { ColumnSummary, LayerOffer, Offered, Setting } from "../api/generated";
import { Button } from "../ui/Button";
import type { PanelProps } from "./panelProps";
import { freeId, withValue } from "./recipe";
import { SettingRow } from "./SettingRow";

interface Props extends PanelProps {
  offered: Offered;
  columns: ColumnSummary[];
}

const UP_PLACES = { above: "right", on: "on", below: "left" };

/** The layers in the order of the recipe, each with its settings; every other layer can be added. */
export function LayersPanel({ offered, columns, recipe, onMove, onSettle }: Props) {
  const rest = offered.layers.filter((offer) => !recipe.layers.some((layer) => layer.layer === offer.layer));
  const add = (offer: LayerOffer) => {
    const layer = { ...offer.usual, id: freeId(recipe, offer.layer.slice(0, 1)) };
    onSettle({ ...recipe, layers: [...recipe.layers, layer] });
  };
  return (
    <>
      {recipe.layers.map((layer, place) => (
        <LayerSettings
          key={layer.id}
          place={place}
          offer={offered.layers.find((offer) => offer.layer === layer.layer)}
          columns={columns}
          recipe={recipe}
          onMove={onMove}
          onSettle={onSettle}
        />
      ))}
      <div className="flex flex-wrap gap-x-1 gap-y-0 px-2 py-2">
        {rest.map((offer) => (
          <Button key={offer.layer} look="quiet" onClick={() => add(offer)}>
            + {offer.title}
          </Button>
        ))}
      </div>
    </>
  );
}

function LayerSettings({
  place,
  offer,
  columns,
  recipe,
  onMove,
  onSettle,
}: PanelProps & { place: number; offer: LayerOffer | undefined; columns: ColumnSummary[] }) {
  const layer = recipe.layers[place];
  if (!layer || !offer) return null;
  const changed = (setting: Setting, value: unknown) => {
    const next = withValue(recipe, ["layers", place, ...setting.path], value);
    const reach = setting.reach[String(value)];
    return reach === undefined
      ? next
      : withValue(next, ["layers", place, ...setting.path.slice(0, -1), "k"], reach);
  };
  const currentOf = (setting: Setting) =>
    setting.path.reduce<unknown>((tree, key) => (tree as Record<string, unknown>)[key], layer);
  const moved = (to: number) => {
    const layers = recipe.layers.filter((_, i) => i !== place);
    layers.splice(to, 0, layer);
    onSettle({ ...recipe, layers });
  };
  const shown = (value: boolean) => withValue(recipe, ["layers", place, "shown"], value);
  const usual = { ...offer.usual, id: layer.id };
  const without = { ...recipe, layers: recipe.layers.filter((one) => one.id !== layer.id) };
  return (
    <section aria-label={offer.title} className="border-b border-hairline px-4 py-3">
      <div className="mb-2 flex items-center gap-2">
        <h2 className="text-[15px] font-bold">{offer.title}</h2>
        <span className="ml-auto flex gap-2">
          {recipe.layers.length > 1 && (
            <Small name={layer.shown ? "Hide" : "Show"} onClick={() => onSettle(shown(!layer.shown))} />
          )}
          {place > 0 && <Small name="Under" onClick={() => moved(place - 1)} />}
          <Small name="Usual" onClick={() => onSettle(withValue(recipe, ["layers", place], usual))} />
          {recipe.layers.length > 1 && <Small name="Remove" onClick={() => onSettle(without)} />}
        </span>
      </div>
      <div className="grid gap-2">
        {(layer.shown ? offer.settings : []).map((setting) => (
          <SettingRow
            key={setting.path.join(".")}
            setting={setting}
            value={currentOf(setting)}
            columns={columns}
            words={setting.path[0] === "place" && recipe.axis.runs === "up" ? UP_PLACES : {}}
            onMove={(value) => onMove(changed(setting, value))}
            onSettle={(value) => onSettle(changed(setting, value))}
          />
        ))}
      </div>
    </section>
  );
}

function Small({ name, onClick }: { name: string; onClick: () => void }) {
  return (
    <Button look="quiet" className="!p-0 !font-normal" onClick={onClick}>
      {name}
    </Button>
  );
}
