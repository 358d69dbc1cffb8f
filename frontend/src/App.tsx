import { lazy, Suspense, type ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { BrowserRouter, Route, Routes, useParams } from "react-router";

import type { Project } from "./api/wire.gen";
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
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<ProjectsScreen />} />
            <Route
              path="/projects/:id"
              element={<InProject>{(project) => <Workbench project={project} />}</InProject>}
            />
            <Route
              path="/projects/:id/materials"
              element={<InProject>{(project) => <MaterialsScreen project={project} />}</InProject>}
            />
            <Route
              path="/projects/:id/hand-over"
              element={<InProject>{(project) => <HandoverScreen project={project} />}</InProject>}
            />
            <Route path="*" element={<Nowhere />} />
          </Routes>
        </BrowserRouter>
        <Notice />
      </Suspense>
    </ErrorBoundary>
  );
}

/** A screen of the project that the address names. */
function InProject({ children }: { children: (project: Project) => ReactNode }) {
  const { id } = useParams();
  return <ProjectFrame id={Number(id)}>{children}</ProjectFrame>;
}

function Nowhere() {
  return (
    <main className="p-10">
      There is nothing at this address.{" "}
      <a className="text-hand underline" href="/">
        Go to the projects.
      </a>
    </main>
  );
}
