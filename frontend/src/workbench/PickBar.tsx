import { sendJson } from "../api/client";
import type { Level, Project } from "../api/types";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { NumberField } from "../ui/NumberField";
import { area, count, plain } from "../ui/numbers";
import { useWorkbench } from "./store";
import { usePicking } from "./usePicking";

const LEVELS: { value: Level; text: string; hint: string }[] = [
  { value: "face", text: "Face", hint: "A click picks one polygon (1)" },
  { value: "patch", text: "Patch", hint: "A click picks the faces that join smoothly (2)" },
  { value: "part", text: "Part", hint: "A click picks a whole part (3)" },
];

const WAYS = [
  { value: "replace" as const, text: "New", hint: "A click begins a new pick" },
  { value: "add" as const, text: "Add", hint: "A click adds to the pick (or hold Shift)" },
  { value: "remove" as const, text: "Take off", hint: "A click takes off the pick (or hold Ctrl)" },
];

/** What a click picks, what changes the whole pick, and what is picked now. */
export function PickBar({ project }: { project: Project }) {
  const { level, how, crease, pick, set, goTo, going } = useWorkbench();
  const ask = usePicking(project.id);
  const picked = pick.faces > 0;
  const setCrease = async (text: string) => {
    const { value } = await sendJson<{ value: number }>("POST", "/quantity", { text, kind: "angle" });
    if (!(value > 0 && value <= 180)) throw new Error("a crease is above 0 and at most 180 degrees");
    set({ crease: value });
  };
  return (
    <section
      aria-label="Pick"
      className="absolute top-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-3 gap-y-1.5 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <Choice label="A click picks" value={level} onChange={(value) => set({ level: value })} options={LEVELS} />
      {level === "patch" && (
        <label className="flex items-center gap-1.5" title="Faces join to a patch where they meet at less than this angle">
          <span className="label">crease</span>
          <NumberField label="Crease angle" hideLabel value={plain(crease)} unit="°" onCommit={setCrease} className="w-14" />
        </label>
      )}
      <Choice label="A click" value={how} onChange={(value) => set({ how: value })} options={WAYS} />
      <span className="flex gap-1">
        <Button look="quiet" onClick={() => void ask({ how: "all" })} shortcut="A">
          All
        </Button>
        <Button look="quiet" disabled={!picked} onClick={() => void ask({ how: "none" })} shortcut="Esc">
          None
        </Button>
        <Button look="quiet" onClick={() => void ask({ how: "invert" })} shortcut="I">
          Invert
        </Button>
        <Button look="quiet" disabled={!picked} onClick={() => void ask({ how: "grow" })} shortcut="+">
          Grow
        </Button>
        <Button look="quiet" disabled={!picked} onClick={() => goTo(going.view, true)} shortcut="Z">
          Zoom to pick
        </Button>
      </span>
      <output className="figure basis-full" data-testid="picked">
        {picked ? (
          <>
            <strong className="font-semibold text-hand">Picked</strong> {pick.words} · {count(pick.faces)}{" "}
            {pick.faces === 1 ? "face" : "faces"} · {count(pick.parts)} {pick.parts === 1 ? "part" : "parts"} ·{" "}
            {area(pick.areaM2)}
          </>
        ) : (
          <span className="text-faint">Nothing is picked. Click the model; drag to look round it.</span>
        )}
      </output>
    </section>
  );
}
