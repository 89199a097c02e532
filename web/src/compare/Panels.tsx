import { Tabs } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import type { ColumnSummary, FigureOptions, Scene, Style } from "../api/generated";
import { AxisPanel } from "./AxisPanel";
import { DifferencesPanel } from "./differences/DifferencesPanel";
import { LayersPanel } from "./LayersPanel";
import { LookPanel } from "./LookPanel";
import type { PanelProps } from "./panelProps";
import type { Sight } from "./sight";
import { WordsPanel } from "./WordsPanel";

const TABS = ["Layers", "Axis", "Words", "Look", "Differences"] as const;

/** The right side: what is drawn, along which axis, in which words. */
export function Panels({
  options,
  columns,
  comparison,
  settledHead,
  scene,
  layer,
  study,
  style,
  looking,
  sight,
  onSight,
  children,
  ...rest
}: PanelProps & {
  options: FigureOptions | undefined;
  columns: ColumnSummary[];
  comparison: string;
  settledHead: () => Promise<unknown>;
  scene: Scene | null;
  /** The layer whose marks were clicked. */
  layer: string | null;
  study: string;
  style: Style;
  looking: boolean;
  sight: Sight;
  onSight: (sight: Sight) => void;
  /** What stands over the layers. */
  children: ReactNode;
}) {
  const [tab, setTab] = useState<string>("Layers");
  useEffect(() => {
    if (layer) setTab("Layers");
  }, [layer]);
  return (
    <aside
      aria-label="Settings"
      className="w-[248px] shrink-0 xl:w-[272px] overflow-x-hidden overflow-y-auto border-l border-hairline bg-[#f9faf8] text-[13px]"
    >
      <Tabs.Root value={tab} onValueChange={setTab}>
        <Tabs.List className="flex gap-2.5 border-b max-xl:gap-1.5 max-xl:px-2.5 border-hairline px-4 pt-3">
          {TABS.map((tab) => (
            <Tabs.Trigger
              key={tab}
              value={tab}
              className="-mb-px border-b-2 border-transparent pb-2 text-[13px] text-muted max-xl:text-[12.5px] data-[state=active]:border-ink data-[state=active]:font-bold data-[state=active]:text-ink"
            >
              {tab}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="Layers">
          {children}
          {options && <LayersPanel {...rest} options={options} columns={columns} open={layer} />}
        </Tabs.Content>
        <Tabs.Content value="Axis">
          <AxisPanel {...rest} scene={scene} study={study} looking={looking} />
        </Tabs.Content>
        <Tabs.Content value="Words">
          <WordsPanel {...rest} scene={scene} options={options} />
        </Tabs.Content>
        <Tabs.Content value="Look">
          <LookPanel
            {...rest}
            comparison={comparison}
            settledHead={settledHead}
            scene={scene}
            study={study}
            style={style}
            looking={looking}
            sight={sight}
            onSight={onSight}
          />
        </Tabs.Content>
        <Tabs.Content value="Differences">
          {scene && options && (
            <DifferencesPanel
              comparison={comparison}
              scene={scene}
              recipe={rest.recipe}
              columns={columns}
              options={options}
              onSettle={rest.onSettle}
            />
          )}
        </Tabs.Content>
      </Tabs.Root>
    </aside>
  );
}
