import { Tabs } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import { DifferencesPanel } from "../differences/DifferencesPanel";
import { useBenchState } from "../store/BenchContext";
import { AxisPanel } from "./AxisPanel";
import { LayersPanel } from "./LayersPanel";
import { LookPanel } from "./LookPanel";
import { WordsPanel } from "./WordsPanel";

const TABS = ["Layers", "Axis", "Words", "Look", "Differences"] as const;

/** The right side: what is drawn, along which axis, in which words; `children` stand over the layers. */
export function Panels({ children }: { children: ReactNode }) {
  const layer = useBenchState((state) => state.layer);
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
          <LayersPanel />
        </Tabs.Content>
        <Tabs.Content value="Axis">
          <AxisPanel />
        </Tabs.Content>
        <Tabs.Content value="Words">
          <WordsPanel />
        </Tabs.Content>
        <Tabs.Content value="Look">
          <LookPanel />
        </Tabs.Content>
        <Tabs.Content value="Differences">
          <DifferencesPanel />
        </Tabs.Content>
      </Tabs.Root>
    </aside>
  );
}
