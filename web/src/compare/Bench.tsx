import { ErrorBoundary } from "react-error-boundary";
import { Fallen } from "../ui/Fallen";
import { Header } from "../ui/Header";
import { AdvicePanel } from "./advice/AdvicePanel";
import { BenchDialogs } from "./BenchDialogs";
import { BenchHeader } from "./BenchHeader";
import { useBenchKeys } from "./commands/useBenchKeys";
import { FigureDrawn } from "./FigureDrawn";
import { FilesCounted } from "./FilesCounted";
import { FormRail } from "./FormRail";
import { StepBar } from "./firstSteps/StepBar";
import { Locked } from "./Locked";
import { Newer } from "./Newer";
import { OtherQuestions } from "./OtherQuestions";
import { Panels } from "./panels/Panels";
import { Remarks } from "./Remarks";
import { RowCardPanel } from "./rows/RowCardPanel";
import { RowsList } from "./rows/RowsList";
import { Sighted } from "./Sighted";
import { Sentence } from "./sentence/Sentence";
import { Sheet } from "./sheet/Sheet";
import { BenchProvider, useBench, useBenchState, useRights } from "./store/BenchContext";
import { recipeOf } from "./store/benchStore";
import { Trail } from "./Trail";
import { Banners } from "./together/Banners";
import { useFigureOptions } from "./useFigureOptions";

/** The compare bench: sentence, sheet with figure and ledger, settings, rows, trail. */
export function Bench({ id }: { id: string }) {
  const bench = useBench(id);
  // Asked for beside the comparison: forms are chosen by keys as soon as the figure is there.
  useFigureOptions();
  return (
    <BenchProvider bench={bench}>
      <Opened />
    </BenchProvider>
  );
}

function Opened() {
  const error = useBenchState((state) => state.error);
  const ready = useBenchState((state) => recipeOf(state) !== null);
  if (error) {
    return (
      <>
        <Header />
        <p className="p-8 text-warn">{error.message}. Go back to all studies by the sign at the upper left.</p>
      </>
    );
  }
  return ready ? <Desk /> : <Header />;
}

function Desk() {
  useBenchKeys();
  const { looking } = useRights();
  const full = useBenchState((state) => state.full);
  const name = useBenchState((state) => state.comparison?.name ?? "");
  return (
    <div className="flex h-full min-w-[1024px] flex-col">
      <title>{`${name} – Echelle`}</title>
      {!full && (
        <>
          <BenchHeader />
          <Locked />
          <Banners />
          {!looking && <Newer />}
          <FilesCounted />
          <FigureDrawn />
          <Sentence />
          <StepBar />
        </>
      )}
      <div className="flex min-h-0 flex-1">
        {!full && (
          <Part name="the forms">
            <FormRail />
          </Part>
        )}
        <main className="relative min-w-0 flex-1 overflow-y-auto p-2 [scrollbar-gutter:stable] xl:p-3">
          {!full && !looking && (
            <Part name="other questions">
              <OtherQuestions />
            </Part>
          )}
          <Part name="the sheet">
            <Sighted>
              <Sheet />
            </Sighted>
          </Part>
          {!full && <Remarks />}
        </main>
        <RowCardPanel />
        {!full && (
          <Part name="the settings">
            <Panels>
              <AdvicePanel />
            </Panels>
          </Part>
        )}
      </div>
      <RowsList />
      {!full && (
        <Part name="the trail">
          <Trail />
        </Part>
      )}
      <BenchDialogs />
    </div>
  );
}

/** A part of the bench whose fault leaves the others standing. */
function Part({ name, children }: { name: string; children: React.ReactNode }) {
  return <ErrorBoundary fallbackRender={(props) => <Fallen place={name} {...props} />}>{children}</ErrorBoundary>;
}
