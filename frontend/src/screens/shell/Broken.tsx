import type { FallbackProps } from "react-error-boundary";

import { Button } from "../../ui/Button";
import { sentenceOf } from "../../ui/attempt";

/** What stands in the place of a screen that broke: nothing confirmed is lost, and there are ways on. */
export function Broken({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <main role="alert" className="m-auto max-w-xl p-10">
      <h1 className="heading mb-2 text-[20px]">This screen has broken down.</h1>
      <p className="mb-2">
        Every edit that you confirmed is kept on the server, and undo still works. Go on here, or load the page anew; a
        figure that you were typing has to be typed again. Where it breaks again, the projects and their files can still
        be reached.
      </p>
      <p className="figure mb-4 text-faint">What went wrong: {sentenceOf(error)}</p>
      <div className="flex gap-2">
        <Button look="main" onClick={resetErrorBoundary}>
          Go on
        </Button>
        <Button onClick={() => window.location.reload()}>Load the page anew</Button>
        <a className="inline-flex h-7 items-center px-2.5 text-hand underline" href="/">
          To the projects
        </a>
      </div>
    </main>
  );
}
