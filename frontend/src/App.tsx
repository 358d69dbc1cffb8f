import { lazy, Suspense } from "react";
import { Route, Switch } from "wouter";

import { ProjectsScreen } from "./projects/ProjectsScreen";
import { ProjectFrame } from "./shell/ProjectFrame";
import { Notice } from "./ui/Notice";

// The workbench brings the whole 3D library along; the other screens do without.
const Workbench = lazy(() => import("./workbench/Workbench"));
const MaterialsScreen = lazy(() => import("./materials/MaterialsScreen"));
const HandoverScreen = lazy(() => import("./handover/HandoverScreen"));

export function App() {
  return (
    <Suspense fallback={null}>
      <Switch>
        <Route path="/">
          <ProjectsScreen />
        </Route>
        <Route path="/projects/:id">
          {({ id }) => <ProjectFrame id={Number(id)}>{(project) => <Workbench project={project} />}</ProjectFrame>}
        </Route>
        <Route path="/projects/:id/materials">
          {({ id }) => <ProjectFrame id={Number(id)}>{(project) => <MaterialsScreen project={project} />}</ProjectFrame>}
        </Route>
        <Route path="/projects/:id/hand-over">
          {({ id }) => <ProjectFrame id={Number(id)}>{(project) => <HandoverScreen project={project} />}</ProjectFrame>}
        </Route>
        <Route>
          <main className="p-10">
            There is nothing at this address. <a className="text-hand underline" href="/">Go to the projects.</a>
          </main>
        </Route>
      </Switch>
      <Notice />
    </Suspense>
  );
}
