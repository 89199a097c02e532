import { Tabs } from "radix-ui";
import type { ColumnSummary, Offered, Scene } from "../api/generated";
import { AxisPanel } from "./AxisPanel";
import { LayersPanel } from "./LayersPanel";
import type { PanelProps } from "./panelProps";
import { WordsPanel } from "./WordsPanel";

const TABS = ["Layers", "Axis", "Words"] as const;

/** The right side: what is drawn, along which axis, in which words. */
export function Panels({
  scene,
  offered,
  columns,
  ...rest
}: PanelProps & { scene: Scene | null; offered: Offered | undefined; columns: ColumnSummary[] }) {
  return (
    <aside
      aria-label="Settings"
      className="w-[248px] shrink-0 xl:w-[272px] overflow-y-auto border-l border-hairline bg-[#f9faf8] text-[13px]"
    >
      <Tabs.Root defaultValue="Layers">
        <Tabs.List className="flex gap-5 border-b border-hairline px-4 pt-3">
          {TABS.map((tab) => (
            <Tabs.Trigger
              key={tab}
              value={tab}
              className="-mb-px border-b-2 border-transparent pb-2 text-[14px] text-muted data-[state=active]:border-ink data-[state=active]:font-bold data-[state=active]:text-ink"
            >
              {tab}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="Layers">
          {scene?.advice.map((advice) => (
            <p key={advice.key} className="mx-4 mt-3 border-l-4 border-accent bg-warn-ground px-3 py-2 text-warn">
              <strong>{advice.text}</strong> <span className="text-ink">{advice.why}</span>
            </p>
          ))}
          {offered && <LayersPanel {...rest} offered={offered} columns={columns} />}
        </Tabs.Content>
        <Tabs.Content value="Axis">
          <AxisPanel {...rest} />
        </Tabs.Content>
        <Tabs.Content value="Words">
          <WordsPanel {...rest} />
        </Tabs.Content>
      </Tabs.Root>
    </aside>
  );
}
