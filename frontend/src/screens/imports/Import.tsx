import { lazy, Suspense } from "react";

import type { Props } from "./ImportDialog";

const ImportDialog = lazy(() => import("./ImportDialog"));

/** The check of a model that comes in; it is loaded when the first one does. */
export function Import(props: Props) {
  return (
    <Suspense fallback={null}>
      <ImportDialog {...props} />
    </Suspense>
  );
}
