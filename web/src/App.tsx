import { type ComponentType, useEffect, useState } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { Route, Switch } from "wouter";
import { StudiesPage } from "./studies/StudiesPage";
import { Fallen } from "./ui/Fallen";
import { Notices, tell } from "./ui/Notices";
import { SignInAgain } from "./ui/SignInAgain";

type BenchPage = ComponentType<{ id: string }>;

/** Each bench's code comes when it is opened first. */
const BENCHES = {
  comparisons: () => import("./compare/Bench").then((module): BenchPage => module.Bench),
  folios: () => import("./folio/FolioBench").then((module): BenchPage => module.FolioBench),
  studies: () => import("./studies/study/StudyPage").then((module): BenchPage => module.StudyPage),
  tables: () => import("./table/TableBench").then((module): BenchPage => module.TableBench),
};

type Kind = keyof typeof BENCHES;

const here = new Map<Kind, BenchPage>();

// Not by Suspense, which holds back for 300 ms what comes soon after its stand-in.
function Opened({ kind, id }: { kind: Kind; id: string }) {
  const [Bench, setBench] = useState(() => here.get(kind));
  useEffect(() => {
    if (Bench) return;
    BENCHES[kind]().then((bench) => {
      here.set(kind, bench);
      setBench(() => bench);
    }, tell);
  }, [kind, Bench]);
  if (!Bench) return <p className="p-8 text-muted">Opening…</p>;
  return (
    <ErrorBoundary key={id} fallbackRender={(props) => <Fallen place="this bench" {...props} />}>
      <Bench id={id} />
    </ErrorBoundary>
  );
}

/** The benches by address. */
export function App() {
  return (
    <>
      <Switch>
        <Route path="/comparisons/:id">{({ id }) => <Opened key="comparisons" kind="comparisons" id={id} />}</Route>
        <Route path="/folios/:id">{({ id }) => <Opened key="folios" kind="folios" id={id} />}</Route>
        <Route path="/studies/:id">{({ id }) => <Opened key="studies" kind="studies" id={id} />}</Route>
        <Route path="/tables/:id">{({ id }) => <Opened key="tables" kind="tables" id={id} />}</Route>
        <Route>
          <StudiesPage />
        </Route>
      </Switch>
      <SignInAgain />
      <Notices />
    </>
  );
}
