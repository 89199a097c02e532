import { useLocation } from "wouter";
import { isLong } from "../../api/client";
import { download } from "../../api/download";
import { useFormats } from "../../api/useFormats";
import { useStudies } from "../../studies/useStudies";
import { tell } from "../../ui/Notices";
import { stateOf } from "../export/sheet";
import { addressOf } from "../export/useExport";
import { withAndWithout } from "../many/sides";
import { useBenchActions, useBenchState, useRights, useShown } from "../store/BenchContext";
import { useCopy } from "../useCopy";
import { useFigureOptions } from "../useFigureOptions";
import { useForms } from "../useForms";
import type { Command } from "./Commands";
import { commandsOf } from "./commands";

/** Everything that can be done from here, made when it is asked for. */
export function useCommands(): () => Command[] {
  const { comparison, recipe } = useShown();
  const { member, rows, looking, change } = useRights();
  const { id, step, look, settledHead } = useBenchActions();
  const full = useBenchState((state) => state.full);
  const form = useBenchState((state) => state.scene?.form ?? null);
  const [formats, options, studies] = [useFormats(), useFigureOptions(), useStudies()];
  const { choose } = useForms();
  const copy = useCopy();
  const [, go] = useLocation();
  const action = (words: string, run: () => void, keys?: string): Command => ({
    kind: "action",
    words,
    run,
    ...(keys ? { keys } : {}),
  });
  const exportAs = async (format: string) => {
    const saved = download(addressOf(id, format, stateOf(await settledHead())));
    await saved.catch((fault) => {
      // There it is seen how far it is.
      if (!isLong(fault)) throw fault;
      look({ dialog: "export" });
    });
  };
  return () => [
    action("Full window", () => look({ full: !full }), "F"),
    action("Help, and the keys of this bench", () => look({ dialog: "help" }), "?"),
    action("All studies, search over everything", () => go("/")),
    action(`Study ${comparison.study_name}`, () => go(`/studies/${comparison.study}`)),
    action("Notes, tags, versions, where it is used", () => look({ dialog: "about" })),
    ...(rows ? [action("Remarks on this figure", () => look({ dialog: "remarks" }))] : []),
    ...(member ? [action("The same question of another table", () => look({ dialog: "same question" }))] : []),
    action(`Table ${comparison.table_name}`, () => go(`/tables/${comparison.table}`)),
    ...(looking
      ? []
      : [
          action("Undo", () => step("undo"), "Ctrl Z"),
          action("Redo", () => step("redo"), "Ctrl Shift Z"),
          action("Other questions of this table", () => look({ questions: true }), "Q"),
          action("Every measure in this figure", () => look({ dialog: "measures" }), "M"),
          action("Copy this state as a new comparison", () => copy(null)),
          action("Lock this comparison", () => look({ dialog: "lock" })),
        ]),
    action("Export, copy the picture, bundle, report", () => look({ dialog: "export" })),
    ...(member ? [action("Share a link", () => look({ dialog: "share" }))] : []),
    ...formats.map(({ name, title }) => ({
      kind: "export",
      words: title,
      run: () => void exportAs(name).catch(tell),
    })),
    ...(recipe.left_out.length && !looking
      ? [action("With and without what is left out", () => look({ dialog: withAndWithout(comparison, recipe) }))]
      : []),
    ...commandsOf({
      recipe,
      options,
      columns: comparison.columns,
      studies,
      form,
      comparison: id,
      change,
      chooseForm: choose,
      goTo: (path) => look({ sought: path }),
      go,
    }),
  ];
}
