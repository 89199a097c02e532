import { lazy, Suspense } from "react";
import { Route, Switch } from "wouter";
import { StudiesPage } from "./studies/StudiesPage";
import { Notices } from "./ui/Notices";

const Bench = lazy(() => import("./compare/Bench").then((module) => ({ default: module.Bench })));

const FolioBench = lazy(() => import("./folio/FolioBench").then((module) => ({ default: module.FolioBench })));

const TableBench = lazy(() => import("./table/TableBench").then((module) => ({ default: module.TableBench })));

/** The benches by address. */
export function App() {
  return (
    <>
      <Suspense fallback={<p className="p-8 text-muted">Opening…</p>}>
        <Switch>
          <Route path="/comparisons/:id">{({ id }) => <Bench key={id} id={id} />}</Route>
          <Route path="/folios/:id">{({ id }) => <FolioBench key={id} id={id} />}</Route>
          <Route path="/tables/:id">{({ id }) => <TableBench key={id} id={id} />}</Route>
          <Route>
            <StudiesPage />
          </Route>
        </Switch>
      </Suspense>
      <Notices />
    </>
  );
}
