import { useMutation } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";

import type { CheckedModel, ModelReading, Opening } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Progress } from "../../ui/Progress";
import { ImportCheck } from "./ImportCheck";
import { useImport } from "./useImport";

export interface Props {
  files: File[];
  /** What the button says, and does with the import. */
  action: string;
  /** What is known of a file that states neither unit nor axis: its axis, and about how large it is. */
  like?: ModelReading;
  onTake: (importId: number, opening: Opening) => Promise<unknown>;
  onClose: () => void;
}

/** Reads a model aside, shows how far that is, and what came in before anything is made of it. */
export default function ImportDialog({ files, action, like = {}, onTake, onClose }: Props) {
  const [reading, setReading] = useState<ModelReading>(like);
  const [mend, setMend] = useState<string[]>([]);
  const [tolerance, setTolerance] = useState<string>();
  const { id, query, state, error } = useImport(files, reading, tolerance);
  const read = state && "size_mm" in state ? (state as CheckedModel) : null;
  const checked = state?.state === "ready";
  const take = useMutation({
    mutationFn: () => {
      // What was guessed is taken as it was shown.
      const shown = read?.asks_unit ? { unit: read.unit, up: read.up } : {};
      const { unit, up } = { ...shown, ...reading };
      return onTake(id!, { ...(unit && { unit }), ...(up && { up }), mend });
    },
  });
  const wrong = take.error ?? error;

  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Dialog.Content
          // A click beside it would stop the import, and what is found makes it grow under the hand.
          onInteractOutside={(event) => event.preventDefault()}
          className={`fixed top-[5vh] left-1/2 z-50 max-h-[90vh] -translate-x-1/2 overflow-auto border border-ink bg-paper p-5 shadow-xl ${read ? "w-[62rem]" : "w-[32rem]"}`}
        >
          <Dialog.Title className="heading text-[20px]">{state?.file ?? files[0]?.name}</Dialog.Title>
          <Dialog.Description className="label mb-3">
            {read ? "What Pivrel found in it" : error ? "It cannot be opened" : "Reading the file"}
          </Dialog.Description>
          {wrong && (
            <p role="alert" className="mb-4 border border-wrong bg-wrong-wash px-3 py-2">
              {wrong.message}.
            </p>
          )}
          {read && !error && (
            <ImportCheck
              picture={`/api/imports/${id}/picture.jpg?${query}`}
              model={read}
              reading={reading}
              onReading={setReading}
              mend={mend}
              onMend={setMend}
              onTolerance={setTolerance}
            />
          )}
          {!read && !wrong && <Progress doing={state?.doing ?? "sending the file"} share={state?.share ?? 0} />}
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={onClose}>{error ? "Close" : checked ? "Cancel" : "Stop"}</Button>
            {!error && (
              <Button look="main" disabled={!checked || take.isPending} onClick={() => take.mutate()}>
                {take.isPending ? "Working…" : action}
              </Button>
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
