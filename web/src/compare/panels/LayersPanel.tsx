import { useEffect, useRef, useState } from "react";
import type { FigureOptions, LayerOffer } from "../../api/generated";
import { Button } from "../../ui/Button";
import { withLayer, withValue } from "../recipe";
import { useBenchState, useRights, useShown } from "../store/BenchContext";
import { useFigureOptions } from "../useFigureOptions";
import { type Described, SettingHelp } from "./SettingHelp";
import { SettingList } from "./SettingList";

const UP_PLACES = { above: "right", on: "on", below: "left" };

/** The layers in the order of the recipe, each with its settings; every other layer that can share the figure can be added. */
export function LayersPanel() {
  const options = useFigureOptions();
  return options ? <Layers options={options} /> : null;
}

function Layers({ options }: { options: FigureOptions }) {
  const { recipe } = useShown();
  const { change: onSettle } = useRights();
  const [described, setDescribed] = useState<Described | null>(null);
  const has = (offer: LayerOffer) => recipe.layers.some((layer) => layer.layer === offer.layer);
  const alone = options.layers.some((offer) => offer.alone && has(offer));
  const rest = alone ? [] : options.layers.filter((offer) => !offer.alone && !has(offer));
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the help goes when the pointer does
    <div onMouseLeave={() => setDescribed(null)}>
      {recipe.layers.map((layer, place) => (
        <LayerSettings
          key={layer.id}
          place={place}
          offer={options.layers.find((offer) => offer.layer === layer.layer)}
          onDescribe={setDescribed}
        />
      ))}
      <div className="flex flex-wrap gap-x-1 gap-y-0 px-2 py-2">
        {rest.map((offer) => (
          <Button key={offer.layer} look="quiet" onClick={() => onSettle(withLayer(recipe, options.layers, offer))}>
            + {offer.title}
          </Button>
        ))}
      </div>
      {described && recipe.layers.some(({ layer }) => layer === described.layer) && (
        <SettingHelp described={described} />
      )}
    </div>
  );
}

interface LayerProps {
  place: number;
  offer: LayerOffer | undefined;
  onDescribe: (described: Described) => void;
}

function LayerSettings({ place, offer, onDescribe }: LayerProps) {
  const { recipe } = useShown();
  const { change: onSettle } = useRights();
  const lit = useBenchState((state) => state.layer !== null && state.layer === recipe.layers[place]?.id);
  const section = useRef<HTMLElement>(null);
  useEffect(() => {
    if (lit) section.current?.scrollIntoView({ block: "nearest" });
  }, [lit]);
  const layer = recipe.layers[place];
  if (!layer || !offer) return null;
  const moved = (to: number) => {
    const layers = recipe.layers.filter((_, i) => i !== place);
    layers.splice(to, 0, layer);
    onSettle({ ...recipe, layers });
  };
  const shown = (value: boolean) => withValue(recipe, ["layers", place, "shown"], value);
  const usual = { ...offer.usual, id: layer.id };
  const without = { ...recipe, layers: recipe.layers.filter((other) => other.id !== layer.id) };
  return (
    <section
      ref={section}
      aria-label={offer.title}
      aria-current={lit ? "true" : undefined}
      className={`border-b border-hairline px-4 py-3 ${lit ? "bg-petrol/5 shadow-[inset_3px_0_0_var(--color-petrol)]" : ""}`}
    >
      <div className="mb-2 flex items-center gap-2">
        <h2 className="text-[15px] font-bold">{offer.title}</h2>
        <span className="ml-auto flex gap-2">
          {recipe.layers.length > 1 && (
            <Small name={layer.shown ? "Hide" : "Show"} onClick={() => onSettle(shown(!layer.shown))} />
          )}
          {place > 0 && <Small name="Behind" onClick={() => moved(place - 1)} />}
          {place < recipe.layers.length - 1 && <Small name="In front" onClick={() => moved(place + 1)} />}
          <Small name="Reset" onClick={() => onSettle(withValue(recipe, ["layers", place], usual))} />
          {recipe.layers.length > 1 && <Small name="Remove" onClick={() => onSettle(without)} />}
        </span>
      </div>
      {layer.shown && (
        <SettingList
          settings={offer.settings}
          at={["layers", place]}
          name={`layers.${offer.layer}`}
          words={(setting) => (setting.path[0] === "place" && recipe.axis.runs === "up" ? UP_PLACES : {})}
          onDescribe={(setting) => onDescribe({ layer: offer.layer, setting })}
        />
      )}
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
