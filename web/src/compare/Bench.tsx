import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { useLocation } from "wouter";
import { answer, api } from "../api/client";
import { download } from "../api/download";
import type { ComparisonState, StepState } from "../api/generated";
import { useFormats } from "../api/useFormats";
import { Header } from "../ui/Header";
import { LockBar } from "../ui/LockBar";
import { tell } from "../ui/Notices";
import { AdvicePanel } from "./advice/AdvicePanel";
import { useAdvice } from "./advice/useAdvice";
import { BenchDialogs, type OpenDialog } from "./BenchDialogs";
import { BenchHeader } from "./BenchHeader";
import type { Command } from "./commands/Commands";
import { commandsOf } from "./commands/commands";
import { useKeys } from "./commands/useKeys";
import { FormRail } from "./FormRail";
import { Newer } from "./Newer";
import { Panels } from "./Panels";
import { Remarks } from "./Remarks";
import { RowCardPanel } from "./rows/RowCardPanel";
import { RowsList } from "./rows/RowsList";
import { useSelection } from "./rows/useSelection";
import { Sentence } from "./Sentence";
import { Sighted } from "./Sighted";
import { Sheet } from "./sheet/Sheet";
import type { Sight } from "./sight";
import { Trail } from "./Trail";
import { useBench } from "./useBench";
import { useFigureOptions } from "./useFigureOptions";
import { useForms } from "./useForms";

type Step = StepState["step"];

/** The compare bench: sentence, sheet with figure and ledger, settings, rows, trail. */
export function Bench({ id }: { id: string }) {
  const bench = useBench(id);
  const { comparison, error, recipe, scene, preview, settle, goTo, takeNewest, saveMeta } = bench;
  const [, go] = useLocation();
  const options = useFigureOptions();
  const formats = useFormats();
  const { forms, inForm } = useForms(id, recipe, scene !== null);
  const advice = useAdvice(id, recipe, scene);
  const { data: studies } = useQuery({ queryKey: ["studies"], queryFn: () => answer(api.GET("/api/studies")) });
  const [row, setRow] = useState<number | null>(null);
  const [layer, setLayer] = useState<string | null>(null);
  const [full, setFull] = useState(false);
  const [sight, setSight] = useState<Sight>("as it is");
  const [over, setOver] = useState<OpenDialog | null>(null);
  const [pinned, setPinned] = useState<number[]>([]);
  // Rows are asked for by what is settled: a drag asks for figures alone.
  const kept = comparison?.recipe ?? null;
  const selection = useSelection(id, kept);

  const viewer = comparison?.role === "viewer";
  const looking = viewer || Boolean(comparison?.locked);
  const change = looking ? preview : settle;
  const rest = looking ? preview : bench.rest;
  const form = scene?.form ?? null;
  const chooseForm = useCallback(
    (name: string) => {
      if (recipe) void inForm(recipe, name).then(change, tell);
    },
    [recipe, inForm, change],
  );
  const { step } = bench;
  const keys = useMemo(
    () => ({
      "Ctrl z": () => !looking && step("undo"),
      "Ctrl Shift z": () => !looking && step("redo"),
      "Ctrl k": () => setOver("commands"),
      "?": () => setOver("keys"),
      f: () => setFull((now) => !now),
      m: () => !looking && setOver("measures"),
      Escape: () => {
        setFull(false);
        setLayer(null);
      },
    }),
    [step, looking],
  );
  useKeys(keys);

  if (error) {
    return (
      <>
        <Header />
        <p className="p-8 text-warn">{error.message}. Go back to all studies by the sign at the upper left.</p>
      </>
    );
  }
  if (!comparison || !recipe) return <Header />;

  const pin = (entry: number) =>
    setPinned((now) => (now.includes(entry) ? now.filter((one) => one !== entry) : [...now, entry]));
  const copy = (entry: number | null) =>
    answer(
      api.POST("/api/comparisons/{comparison_id}/copies", {
        params: { path: { comparison_id: id } },
        body: { entry },
      }),
    ).then((made) => go(`/comparisons/${made.id}`), tell);
  const sideBySide = () =>
    setOver({
      title: "States side by side",
      sides: pinned.map((entry) => ({ entry, recipe: null, words: stateWords(comparison, entry) })),
    });
  const both = () =>
    setOver({
      title: "With and without what is left out",
      sides: [
        { entry: comparison.head, recipe: { ...recipe, left_out: [] }, words: "all rows" },
        { entry: comparison.head, recipe, words: `without ${recipe.left_out.length} left out` },
      ],
    });
  const addStep = async (added: Step) => {
    const table = await answer(
      api.GET("/api/tables/{table_id}", {
        params: { path: { table_id: comparison.newer?.table ?? comparison.table } },
      }),
    );
    const steps = [...table.outcome.steps.map((one) => one.step), added];
    await answer(
      api.POST("/api/tables/{table_id}/preparation", {
        params: { path: { table_id: table.id } },
        body: { revision: table.revision, steps },
      }),
    );
    takeNewest();
  };
  const exportAs = async (format: string) =>
    download(`/api/comparisons/${id}/export/${format}?entry=${await bench.settledHead()}`);
  const actions: Command[] = [
    { kind: "action", words: "Full window", keys: "F", run: () => setFull(!full) },
    { kind: "action", words: "Keys of this bench", keys: "?", run: () => setOver("keys") },
    { kind: "action", words: "All studies", run: () => go("/") },
    { kind: "action", words: `Table ${comparison.table_name}`, run: () => go(`/tables/${comparison.table}`) },
    ...(looking
      ? []
      : [
          { kind: "action", words: "Undo", keys: "Ctrl Z", run: () => step("undo") },
          { kind: "action", words: "Redo", keys: "Ctrl Shift Z", run: () => step("redo") },
          { kind: "action", words: "Every measure in this figure", keys: "M", run: () => setOver("measures") },
          { kind: "action", words: "Copy this state as a new comparison", run: () => void copy(null) },
          { kind: "action", words: "Lock this comparison", run: () => setOver("lock") },
        ]),
    { kind: "action", words: "Export, copy the picture, bundle, report", run: () => setOver("export") },
    ...(viewer ? [] : [{ kind: "action", words: "Share a link", run: () => setOver("share") }]),
    ...formats.map(({ name, title }) => ({
      kind: "export",
      words: title,
      run: () => void exportAs(name).catch(tell),
    })),
    ...(recipe.left_out.length && !looking
      ? [{ kind: "action", words: "With and without what is left out", run: both }]
      : []),
  ];
  const commands = () =>
    [
      ...actions,
      ...commandsOf({
        recipe,
        options,
        columns: comparison.columns,
        studies: studies ?? [],
        form,
        comparison: id,
        change,
        chooseForm,
        go,
      }),
    ] satisfies Command[];

  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <title>{`${comparison.name} – Echelle`}</title>
      {!full && (
        <BenchHeader
          comparison={comparison}
          studies={studies ?? []}
          looking={looking}
          viewer={viewer}
          onStep={step}
          onDialog={setOver}
        />
      )}
      {comparison.locked && !full && (
        <LockBar
          locked={comparison.locked}
          version={comparison.version}
          onGoOn={
            viewer
              ? null
              : () =>
                  answer(
                    api.POST("/api/comparisons/{comparison_id}/versions", {
                      params: { path: { comparison_id: id } },
                    }),
                  ).then((made) => go(`/comparisons/${made.id}`))
          }
        />
      )}
      {!looking && !full && (
        <Newer comparison={comparison} scene={scene} onTake={takeNewest} onReload={bench.reload} />
      )}
      {!full && (
        <Sentence
          comparison={comparison}
          recipe={recipe}
          counts={scene?.counts}
          options={options}
          form={form}
          onChange={change}
          onRows={viewer ? null : selection.look}
        />
      )}
      <div className="flex min-h-0 flex-1">
        {options && !full && <FormRail options={options} forms={forms} current={form} onChoose={chooseForm} />}
        <main className="relative min-w-0 flex-1 overflow-y-auto p-2.5 xl:p-4">
          <Sighted sight={sight}>
            <Sheet
              comparison={id}
              scene={scene}
              peaks={advice.filter((one) => one.key.startsWith("peaks-")).map((one) => one.text)}
              recipe={recipe}
              looking={looking}
              rows={!viewer}
              onMove={preview}
              onRest={rest}
              onSettle={change}
              onRow={setRow}
              row={row}
              layer={layer}
              onLayer={setLayer}
              selected={selection.rows}
              onBrush={selection.brush}
              full={full}
              onFull={setFull}
            />
          </Sighted>
          {!full && <Remarks comparison={comparison} />}
        </main>
        {row !== null && !viewer && (
          <div className="relative w-0">
            <RowCardPanel
              key={row}
              comparison={comparison}
              recipe={comparison.recipe}
              row={row}
              fixed={looking}
              onSettle={settle}
              onNewest={takeNewest}
              onBoth={both}
              onClose={() => setRow(null)}
            />
          </div>
        )}
        {!full && (
          <Panels
            comparison={id}
            settledHead={bench.settledHead}
            scene={scene}
            options={options}
            columns={comparison.columns}
            recipe={recipe}
            layer={layer}
            study={comparison.study}
            style={comparison.style}
            looking={looking}
            sight={sight}
            onSight={setSight}
            onMove={preview}
            onRest={rest}
            onSettle={change}
          >
            <AdvicePanel
              advice={advice}
              dismissed={comparison.dismissed}
              recipe={recipe}
              looking={looking}
              onSettle={change}
              onStep={(added) => void addStep(added).catch(tell)}
              onDismiss={(key, dismissed) =>
                saveMeta(
                  answer(
                    api.PUT("/api/comparisons/{comparison_id}/dismissed", {
                      params: { path: { comparison_id: id } },
                      body: { key, dismissed },
                    }),
                  ),
                )
              }
            />
          </Panels>
        )}
      </div>
      {selection.looked && selection.rows && scene && !viewer && (
        <RowsList
          comparison={id}
          recipe={comparison.recipe}
          scene={scene}
          looked={selection.looked}
          rows={selection.rows}
          row={row}
          onRow={setRow}
          onClose={selection.clear}
        />
      )}
      {!full && (
        <Trail
          drawn={scene !== null}
          comparison={comparison}
          looking={looking}
          pinned={pinned}
          onGo={goTo}
          onPin={pin}
          onCompare={sideBySide}
          onName={(entry, name) =>
            saveMeta(
              answer(
                api.PUT("/api/comparisons/{comparison_id}/trail/{number}/name", {
                  params: { path: { comparison_id: id, number: entry } },
                  body: { name },
                }),
              ),
            )
          }
          onCopy={(entry) => void copy(entry)}
        />
      )}
      {over && (
        <BenchDialogs
          over={over}
          comparison={comparison}
          recipe={recipe}
          scene={scene}
          commands={commands}
          viewer={viewer}
          bench={bench}
          onDialog={setOver}
        />
      )}
    </div>
  );
}

function stateWords(comparison: ComparisonState, number: number): string {
  const entry = comparison.trail.find((one) => one.number === number);
  return entry ? entry.name || entry.words : "";
}
