import { useRef, useState } from "react";

import { quantity } from "../../../api/quantity";
import { useEdits } from "../../../api/project";
import type { Project, Triple } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Dialog } from "../../../ui/Dialog";
import { NumberField } from "../../../ui/NumberField";
import { count, mm } from "../../../ui/numbers";
import { UNITS, UPWARD_AXES } from "../../../ui/readings";
import { useDesk } from "../../../state/desk";
import { goTo } from "../../../state/look";
import { sentenceOf } from "../../../ui/attempt";
import { put } from "../../../state";

const MM: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };

/** How the model's numbers are read, and where it stands: one edit, that undo takes back. */
export function PlaceDialog({ project }: { project: Project }) {
  const placingShown = useDesk((s) => s.placingShown);
  const close = () => put({ placingShown: false });
  return (
    <Dialog title="Unit, axes and place" open={placingShown} onClose={close} className="w-[30rem]" testid="placing">
      <div className="overflow-y-auto p-5 pt-3">
        <p className="mb-4 text-faint">Faces, finishes and views go with the model; materials keep their true size.</p>
        <Form project={project} onDone={close} />
      </div>
    </Dialog>
  );
}

function Form({ project, onDone }: { project: Project; onDone: () => void }) {
  const { model } = project;
  const { edit } = useEdits(project.id);
  const [unit, setUnit] = useState(model.unit);
  const [up, setUp] = useState(model.up);
  const [shift, setShift] = useState<Triple>(model.shift_mm);
  // A figure that was just typed is still being read when a button takes the hand out of its field.
  const typed = useRef({ shift: model.shift_mm, read: Promise.resolve() });
  const [wrong, setWrong] = useState<string | null>(null);
  const factor = MM[unit]! / MM[model.unit]!;
  const [low, high] = model.bounds_mm;
  const own = ([0, 1, 2] as const).map((k) => (high[k] - low[k]) * factor);
  // With another axis up, what was deep is high.
  const [x, y, z] = up === model.up ? own : [own[0], own[2], own[1]];
  const putAt = (to: Triple) => {
    typed.current.shift = to;
    setShift(to);
  };
  const onGround = async () => {
    await typed.current.read.catch(() => undefined);
    // Where the model would stand without a shift, in the reading chosen here.
    const [a, b] = [low, high].map((end) => end.map((v, k) => (v - model.shift_mm[k]!) * factor));
    const ends = up === model.up ? [a!, b!] : turned(a!, b!, up);
    putAt([
      -(ends[0]![0]! + ends[1]![0]!) / 2,
      -(ends[0]![1]! + ends[1]![1]!) / 2,
      -Math.min(ends[0]![2]!, ends[1]![2]!),
    ]);
  };
  const apply = async () => {
    try {
      await typed.current.read;
      await edit({ kind: "place_model", unit, up, shift_mm: typed.current.shift });
      goTo("around");
      onDone();
    } catch (error) {
      typed.current.read = Promise.resolve();
      setWrong(sentenceOf(error));
    }
  };
  return (
    <>
      <div className="mb-3 flex gap-4">
        <Choice label="Unit of the model" value={unit} onChange={setUnit} options={UNITS} />
        <Choice label="Upward axis of the model" value={up} onChange={setUp} options={UPWARD_AXES} />
      </div>
      <p className="figure mb-4 text-[19px]" data-testid="placed-size">
        {[x, y, z].map((side) => count(Math.round(side! * 10) / 10)).join(" × ")} mm
      </p>
      <p className="label mb-1">Put from where the file has it, in mm</p>
      <div className="mb-2 flex gap-2">
        {([0, 1, 2] as const).map((k) => (
          <NumberField
            key={k}
            label={`Shift ${"xyz"[k]}`}
            value={mm(shift[k])}
            className="flex-1"
            onCommit={(text) =>
              (typed.current.read = quantity(text, "length").then((value) => {
                setWrong(null);
                putAt(typed.current.shift.map((v, at) => (at === k ? value : v)) as Triple);
              }))
            }
          />
        ))}
      </div>
      <div className="mb-4 flex gap-2">
        <Button title="Its middle over the origin, its lowest place on the ground" onClick={() => void onGround()}>
          Stand it on the origin
        </Button>
        <Button look="quiet" onClick={() => putAt([0, 0, 0])}>
          Where the file has it
        </Button>
      </div>
      {wrong && (
        <p role="alert" className="mb-3 border border-wrong bg-wrong-wash px-3 py-2 first-letter:uppercase">
          {wrong}.
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button look="main" onClick={() => void apply()}>
          Change the model
        </Button>
      </div>
    </>
  );
}

/** The ends of a box with another axis up: Y up (x, y, z) becomes Z up (x, -z, y). */
function turned(a: number[], b: number[], up: string): [number[], number[]] {
  const turn = (p: number[]) => (up === "y" ? [p[0]!, -p[2]!, p[1]!] : [p[0]!, p[2]!, -p[1]!]);
  return [turn(a), turn(b)];
}
