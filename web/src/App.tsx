import { ErrorBoundary } from "react-error-boundary";
import { Route, Switch } from "wouter";
import { Fallen } from "./ui/Fallen";
import { later } from "./ui/later";
import { Notices } from "./ui/Notices";
import { SignInAgain } from "./ui/SignInAgain";

const OPENING = <p className="p-8 text-muted">Opening…</p>;

/** Each page's code comes when it is opened first. */
const StudiesPage = later(() => import("./studies/StudiesPage").then((module) => module.StudiesPage), OPENING);
const BENCHES = {
  comparisons: later(() => import("./compare/Bench").then((module) => module.Bench), OPENING),
  folios: later(() => import("./folio/FolioBench").then((module) => module.FolioBench), OPENING),
  studies: later(() => import("./studies/study/StudyPage").then((module) => module.StudyPage), OPENING),
  tables: later(() => import("./table/TableBench").then((module) => module.TableBench), OPENING),
};

/** The benches by address. */
export function App() {
  return (
    <>
      <Switch>
        {Object.entries(BENCHES).map(([kind, Bench]) => (
          <Route key={kind} path={`/${kind}/:id`}>
            {({ id }: { id: string }) => (
              <ErrorBoundary key={id} fallbackRender={(props) => <Fallen place="this bench" {...props} />}>
                <Bench id={id} />
              </ErrorBoundary>
            )}
          </Route>
        ))}
        <Route>
          <StudiesPage />
        </Route>
      </Switch>
      <SignInAgain />
      <Notices />
    </>
  );
}
