import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { Link } from "wouter";
import { get } from "../api/client";
import type { StudyCards } from "../api/generated";
import { Bring } from "../studies/Bring";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import { tell } from "../ui/Notices";
import { ExportMenu } from "./ExportMenu";
import { FormRail } from "./FormRail";
import { NewerData } from "./NewerData";
import { Panels } from "./Panels";
import { Remarks } from "./Remarks";
import { RowCardPanel } from "./RowCardPanel";
import { Sentence } from "./Sentence";
import { Sheet } from "./Sheet";
import { Trail } from "./Trail";
import { useBench } from "./useBench";
import { useForms } from "./useForms";
import { useOffered } from "./useOffered";

/** The compare bench: sentence, sheet with figure and ledger, settings, trail. */
export function Bench({ id }: { id: string }) {
  const { comparison, error, recipe, scene, preview, settle, goTo, takeNewest, settledHead } = useBench(id);
  const offered = useOffered();
  const { forms, inForm } = useForms(id, recipe, scene !== null);
  const { data: studies } = useQuery({ queryKey: ["studies"], queryFn: () => get<StudyCards>("studies") });
  const [row, setRow] = useState<number | null>(null);
  const undo = comparison?.undo ?? null;
  const redo = comparison?.redo ?? null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const field = event.target instanceof HTMLElement && event.target.closest("input, textarea, select");
      if (field || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      const to = event.shiftKey ? redo : undo;
      if (to !== null) goTo(to);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [undo, redo, goTo]);

  const looking = comparison?.role === "viewer";
  const change = looking ? preview : settle;
  const chooseForm = useCallback(
    (form: string) => {
      if (recipe) void inForm(recipe, form).then(change, tell);
    },
    [recipe, inForm, change],
  );

  if (error) {
    return (
      <>
        <Header />
        <p className="p-8 text-warn">{error.message}. Go back to all studies by the sign at the upper left.</p>
      </>
    );
  }
  if (!comparison || !recipe) return <Header />;
  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <title>{`${comparison.name} – Echelle`}</title>
      <Header
        place={
          <>
            <span className="truncate">{comparison.study_name}</span>
            <span aria-hidden="true">/</span>
            <h1 className="truncate text-sheet">{comparison.name}</h1>
            <Link
              href={`/tables/${comparison.table}`}
              className="truncate text-[12px] text-sheet/70 underline decoration-accent underline-offset-4"
            >
              {comparison.table_name}
            </Link>
          </>
        }
      >
        {!looking && (
          <Bring
            studies={studies ?? []}
            first={comparison.study}
            trigger={<Button look="dark">Bring a table</Button>}
          />
        )}
        <Button
          look="dark"
          disabled={undo === null || looking}
          onClick={() => undo !== null && goTo(undo)}
          title="Ctrl Z"
        >
          Undo
        </Button>
        <Button
          look="dark"
          disabled={redo === null || looking}
          onClick={() => redo !== null && goTo(redo)}
          title="Ctrl Shift Z"
        >
          Redo
        </Button>
        <ExportMenu comparison={id} settledHead={settledHead} />
      </Header>
      {comparison.newer && !looking && (
        <NewerData comparison={comparison} newer={comparison.newer} scene={scene} onTake={takeNewest} />
      )}
      <Sentence
        comparison={comparison}
        recipe={recipe}
        counts={scene?.counts}
        offered={offered}
        form={scene?.form ?? null}
        onChange={change}
      />
      <div className="flex min-h-0 flex-1">
        {offered && (
          <FormRail offered={offered} forms={forms} current={scene?.form ?? null} onChoose={chooseForm} />
        )}
        <main className="relative min-w-0 flex-1 overflow-y-auto p-2.5 xl:p-4">
          <Sheet scene={scene} recipe={recipe} onMove={preview} onSettle={change} onRow={setRow} row={row} />
          <Remarks comparison={comparison} />
        </main>
        {row !== null && !looking && (
          <div className="relative w-0">
            <RowCardPanel
              key={row}
              comparison={id}
              recipe={recipe}
              row={row}
              onSettle={settle}
              onClose={() => setRow(null)}
            />
          </div>
        )}
        <Panels
          scene={scene}
          offered={offered}
          columns={comparison.columns}
          recipe={recipe}
          onMove={preview}
          onSettle={change}
        />
      </div>
      <Trail comparison={comparison} onGo={goTo} />
    </div>
  );
}
