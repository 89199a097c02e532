import { Tabs } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import { DifferencesPanel } from "../differences/DifferencesPanel";
import { useBenchActions, useBenchState } from "../store/BenchContext";
import { AxisPanel } from "./AxisPanel";
import { LayersPanel } from "./LayersPanel";
import { LookPanel } from "./LookPanel";
import { WordsPanel } from "./WordsPanel";

const FOCUSABLE = "input, select, textarea, button, [role=slider], [role=radio]";
/** The tab that a part of the recipe is set in, and the word of the sentence that opens its picker. */
const TAB_OF: Record<string, string> = {
  layers: "Layers",
  axis: "Axis",
  second_axis: "Axis",
  guides: "Axis",
  words: "Words",
  style: "Look",
  own_look: "Look",
  size: "Look",
  differences: "Differences",
};
const OPENER_OF: Record<string, string> = {
  measure: "[data-path='measure.columns']",
  groups: "[data-path='groups.column']",
  subgroups: "[data-path='subgroups.column']",
  panels: "[data-path^='panels.'][data-path$='.column']",
  ledger: "[data-path='ledger']",
};
const TABS = ["Layers", "Axis", "Words", "Look", "Differences"] as const;

/** The right side: what is drawn, along which axis, in which words; `children` stand over the layers. */
export function Panels({ children }: { children: ReactNode }) {
  const layer = useBenchState((state) => state.layer);
  const [tab, setTab] = useState<string>("Layers");
  const sought = useBenchState((state) => state.sought);
  const { look } = useBenchActions();
  useEffect(() => {
    if (layer) setTab("Layers");
  }, [layer]);
  useEffect(() => {
    if (!sought) return;
    const tab = TAB_OF[sought.split(".")[0] ?? ""];
    if (tab) setTab(tab);
    const opener = OPENER_OF[sought.split(".")[0] ?? ""];
    const control = () => document.querySelector<HTMLElement>(`[data-path~="${sought}"]`);
    // Once the tab, or the picker that it stands in, is there.
    const timer = setTimeout(() => {
      if (!control() && opener) document.querySelector<HTMLElement>(opener)?.click();
      requestAnimationFrame(() => {
        const found = control();
        found?.scrollIntoView({ block: "center" });
        (found?.matches(FOCUSABLE) ? found : found?.querySelector<HTMLElement>(FOCUSABLE))?.focus();
        look({ sought: null });
      });
    }, 50);
    return () => clearTimeout(timer);
  }, [sought, look]);
  return (
    <aside
      aria-label="Settings"
      className="relative w-[232px] shrink-0 xl:w-[272px] overflow-x-hidden overflow-y-auto border-l border-hairline bg-[#f9faf8] text-[13px]"
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
