import { lazy, Suspense } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { Route, Switch } from "wouter";

import { ProjectsScreen } from "./screens/projects/ProjectsScreen";
import { ProjectFrame } from "./screens/shell/ProjectFrame";
import { Notice } from "./ui/Notice";
import { Broken } from "./screens/shell/Broken";
import { reset } from "./state";

// The workbench brings the whole 3D library along; the other screens do without.
const Workbench = lazy(() => import("./screens/workbench/Workbench"));
const MaterialsScreen = lazy(() => import("./screens/materials/MaterialsScreen"));
const HandoverScreen = lazy(() => import("./screens/handover/HandoverScreen"));

export function App() {
  return (
    <ErrorBoundary FallbackComponent={Broken} onReset={reset}>
      <Suspense fallback={null}>
        <Switch>
          <Route path="/">
            <ProjectsScreen />
          </Route>
          <Route path="/projects/:id">
            {({ id }) => <ProjectFrame id={Number(id)}>{(project) => <Workbench project={project} />}</ProjectFrame>}
          </Route>
          <Route path="/projects/:id/materials">
            {({ id }) => (
              <ProjectFrame id={Number(id)}>{(project) => <MaterialsScreen project={project} />}</ProjectFrame>
            )}
          </Route>
          <Route path="/projects/:id/hand-over">
            {({ id }) => (
              <ProjectFrame id={Number(id)}>{(project) => <HandoverScreen project={project} />}</ProjectFrame>
            )}
          </Route>
          <Route>
            <main className="p-10">
              There is nothing at this address.{" "}
              <a className="text-hand underline" href="/">
                Go to the projects.
              </a>
            </main>
          </Route>
        </Switch>
        <Notice />
      </Suspense>
    </ErrorBoundary>
  );
}
