import { Download } from "lucide-react";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import type { Bakeable, BakePlan, Project } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Progress } from "../../ui/Progress";
import { count, counted, percent, plain } from "../../ui/numbers";
import { BakeFields, type Asked } from "./BakeFields";
import { useBake, useBakeable } from "./useBake";

interface Props {
  project: Project;
  open: boolean;
  onClose: () => void;
}

/** Finishes with all of their coats as images of their own: what is asked, what follows from it, the bake, the file. */
export function BakeDialog({ project, open, onClose }: Props) {
  const { data } = useBakeable(project.id, project.revision);
  return (
    <Dialog title="Bake to images" open={open} onClose={onClose} className="w-[60rem]" testid="bake">
      {open && data && <Asking project={project} finishes={data} />}
    </Dialog>
  );
}

function Asking({ project, finishes }: { project: Project; finishes: Bakeable[] }) {
  const [asked, setAsked] = useState<Asked>({
    kind: "glb",
    px_per_m: 250,
    size: 4096,
    padding_px: 8,
    finishes: finishes.filter((finish) => finish.needs).map((finish) => finish.key),
    unfold: "own",
    height_bits: 16,
  });
  const { id, state, error, begin, stop } = useBake(project.id, asked.finishes.length ? asked : null);
  const start = useMutation({ mutationFn: begin });
  const baking = state?.step === "bake";
  const done = baking && state.state === "ready";
  const wrong = error ?? start.error;
  useSavedOnce(done ? `/api/bakes/${id}/file` : null);
  return (
    <div className="grid grid-cols-[26rem_1fr] gap-6 overflow-y-auto px-5 py-4">
      <fieldset disabled={baking && !done} className="disabled:opacity-60">
        <BakeFields finishes={finishes} asked={asked} onChange={setAsked} />
      </fieldset>
      <div className="flex flex-col gap-3">
        {asked.finishes.length === 0 && (
          <p>
            Every finish is held by images that repeat, so no file needs a bake. Tick what you want as images of its own
            nonetheless.
          </p>
        )}
        {asked.finishes.length > 0 && !wrong && !state?.plan && (
          <Progress doing={state?.doing ?? "planning"} share={state?.share ?? 0} />
        )}
        {wrong && (
          <p role="alert" className="border border-wrong bg-wrong-wash px-3 py-2 first-letter:uppercase">
            {wrong.message}.
          </p>
        )}
        {state?.plan && <Planned plan={state.plan} asked={asked} />}
        {state?.plan && !wrong && !baking && (
          <Button look="main" className="h-9! self-start" disabled={start.isPending} onClick={() => start.mutate()}>
            Bake {counted(state.plan.images.length, "image")} a channel
          </Button>
        )}
        {baking && state.state === "working" && (
          <>
            <Progress doing={state.doing} share={state.share} />
            <p className="flex items-center gap-3">
              <Button onClick={stop}>Stop</Button>
              <span className="text-faint">Closing this stops it too.</span>
            </p>
          </>
        )}
        {done && <Done id={id!} notes={state.notes} />}
      </div>
    </div>
  );
}

/** The file is handed over as soon as it is there, once. */
function useSavedOnce(url: string | null) {
  useEffect(() => {
    if (!url) return;
    const link = document.createElement("a");
    link.href = url;
    link.download = "";
    link.click();
  }, [url]);
}

function Planned({ plan, asked }: { plan: BakePlan; asked: Asked }) {
  const sizes = [...new Set(plan.images.map(([width, height]) => `${count(width)} × ${count(height)}`))];
  const of = (size: string) =>
    plan.images.filter(([width, height]) => `${count(width)} × ${count(height)}` === size).length;
  return (
    <div data-testid="bake-plan">
      <h3 className="heading mb-1">What it makes</h3>
      <dl className="grid grid-cols-[8rem_1fr] gap-y-1 border-t border-rule pt-2 [&>dt]:text-faint">
        <dt>Images a channel</dt>
        <dd className="figure">{sizes.map((size) => `${of(size)} of ${size} px`).join(", ")}</dd>
        <dt>Pieces</dt>
        <dd className="figure">
          {count(plan.pieces)}, {percent(plan.filled)} of the images filled
        </dd>
        <dt>Density</dt>
        <dd>
          {plan.true_share > 0.9995 ? (
            `${plain(asked.px_per_m)} px/m, within 2 % everywhere`
          ) : (
            <>
              {plain(asked.px_per_m)} px/m within 2 % on {percent(plan.true_share)} of the surface, and{" "}
              {plain(plan.least_px_per_m, 0)} to {plain(plan.greatest_px_per_m, 0)} px/m on 99 % of it: what is bent
              both ways cannot lie flat
            </>
          )}
        </dd>
        <dt>Channels</dt>
        <dd>
          Color, normal, roughness with metal, occlusion and height, as far as the finishes have them.
          {asked.kind !== "obj" && " Heights come as images beside the model, in a ZIP with it."}
        </dd>
        <dt>UVs</dt>
        <dd>
          {asked.kind === "obj"
            ? "The images' own, in place of the sheet's: an OBJ has one set."
            : "The images lie by the second set; the first keeps the sheet's."}
        </dd>
      </dl>
      {plan.images.length > 16 && (
        <p className="mt-2 border-l-2 border-wrong pl-2">
          {plan.images.length} images a channel are many: fewer px/m or larger images make fewer.
        </p>
      )}
    </div>
  );
}

function Done({ id, notes }: { id: number; notes: string[] }) {
  return (
    <div className="border-t border-rule pt-3" data-testid="bake-done">
      <a
        href={`/api/bakes/${id}/file`}
        download
        className="inline-flex h-9 items-center gap-2 border border-hand bg-hand px-3 text-white"
      >
        <Download size={16} aria-hidden /> Save the file again
      </a>
      <ul className="mt-2 text-faint">
        <li>Done; the file was saved.</li>
        {notes.map((note) => (
          <li key={note} className="first-letter:uppercase">
            {note}.
          </li>
        ))}
      </ul>
    </div>
  );
}
