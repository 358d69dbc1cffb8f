import { quantity } from "../../api/quantity";
import type { Level, Project } from "../../api/wire.gen";
import type { WorkbenchContext } from "../../commands/command";
import { CommandButton } from "../../commands/CommandButton";
import { commandOf, withKey } from "../../commands/registry";
import { Choice } from "../../ui/Choice";
import { Menu } from "../../ui/Menu";
import { NumberField } from "../../ui/NumberField";
import { plain } from "../../ui/numbers";
import { InSight } from "./InSight";
import { PickedLine } from "./PickedLine";
import { PickSets } from "./PickSets";
import { put } from "../../state";
import { type Tool, usePick } from "../../state/pick";

const LEVELS: { value: Level; text: string; hint: string }[] = [
  { value: "face", text: "Face", hint: withKey("A click picks one polygon", "level-face") },
  { value: "patch", text: "Patch", hint: withKey("A click picks the faces that join smoothly", "level-patch") },
  { value: "part", text: "Part", hint: withKey("A click picks a whole part", "level-part") },
];

interface Further {
  value: Level;
  text: string;
  hint: string;
  /** Whether the model file states what this goes by. */
  there?: (project: Project) => boolean;
}

const FURTHER: Further[] = [
  { value: "ring", text: "Ring", hint: "The faces that go round, over the edge nearest to the click" },
  { value: "plane", text: "Plane", hint: "All faces in the same plane" },
  { value: "facing", text: "Same facing", hint: "Faces of the part that look the same way" },
  { value: "shape", text: "Same shape", hint: "All copies of the part" },
  {
    value: "surface",
    text: "Same surface",
    hint: "All patches on the same exact surface",
    there: (p) => p.model.exact,
  },
  { value: "element", text: "Element type", hint: "All walls, all slabs …", there: (p) => p.model.elements },
  { value: "storey", text: "Storey", hint: "Everything on the storey", there: (p) => p.model.storeys },
  {
    value: "source",
    text: "File's material",
    hint: "What the file makes of one material",
    there: (p) => p.model.sources.length > 0,
  },
];

const OUTLINED = [
  { value: "face" as const, text: "Faces", hint: "Takes the faces that the outline holds" },
  { value: "patch" as const, text: "Patches", hint: "Takes every patch that the outline holds a face of" },
  { value: "part" as const, text: "Parts", hint: "Takes every part that the outline holds a face of" },
];

const WAYS = [
  { value: "replace" as const, text: "New", hint: "Begins a new pick" },
  { value: "add" as const, text: "Add", hint: "Adds to the pick (or hold Shift)" },
  { value: "remove" as const, text: "Take off", hint: "Takes off the pick (or hold Ctrl)" },
  { value: "keep" as const, text: "Overlap", hint: "Leaves only what is in both, the pick and what is pointed at" },
];

const TOOLS: { value: Tool; text: string; hint: string }[] = [
  { value: "click", text: "Click", hint: withKey("Pick by clicks", "tool-click") },
  {
    value: "rectangle",
    text: "Rectangle",
    hint: withKey("Drag a rectangle over the view; the right button pans", "tool-rectangle"),
  },
  { value: "outline", text: "Outline", hint: withKey("Draw round the faces with the pointer", "tool-outline") },
];

const WHOLE = [
  { text: "All", command: commandOf("pick-all") },
  { text: "None", command: commandOf("pick-none") },
  { text: "Invert", command: commandOf("pick-invert") },
  { text: "Grow", command: commandOf("pick-grow") },
  { text: "Shrink", command: commandOf("pick-shrink") },
];

/** What picks and how, what changes the whole pick, and what is picked now. */
export function PickBar({ context }: { context: WorkbenchContext }) {
  const level = usePick((s) => s.level);
  const how = usePick((s) => s.how);
  const tool = usePick((s) => s.tool);
  const through = usePick((s) => s.through);
  const whole = usePick((s) => s.whole);
  const outlined = usePick((s) => s.outlined);
  const pick = usePick((s) => s.pick);
  const { project } = context;
  const further = FURTHER.filter((f) => f.there?.(project) ?? true);
  const inFurther = further.find((f) => f.value === level);
  return (
    <section
      aria-label="Pick"
      className="absolute top-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-2 gap-y-1.5 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <Choice label="Picks with" value={tool} onChange={(value) => put({ tool: value })} options={TOOLS} />
      {tool !== "click" && (
        <>
          <Choice
            label="An outline picks"
            value={outlined}
            onChange={(value) => put({ outlined: value })}
            options={OUTLINED}
          />
          <Choice
            label="Takes"
            value={through ? "through" : "seen"}
            onChange={(value) => put({ through: value === "through" })}
            options={[
              { value: "seen", text: "Seen", hint: "Only faces that show" },
              { value: "through", text: "Through", hint: "Also what lies behind" },
            ]}
          />
          <Choice
            label="Faces"
            value={whole ? "whole" : "touched"}
            onChange={(value) => put({ whole: value === "whole" })}
            options={[
              { value: "touched", text: "Touched", hint: "Faces that the outline touches" },
              { value: "whole", text: "Whole", hint: "Only faces that lie wholly within" },
            ]}
          />
        </>
      )}
      {tool === "click" && (
        <span className="flex gap-1">
          <Choice label="A click picks" value={level} onChange={(value) => put({ level: value })} options={LEVELS} />
          <Menu
            text={inFurther ? inFurther.text : "More"}
            title="More of what a click can stand for"
            look={inFurther ? "main" : "plain"}
            items={further.map((f) => ({ text: f.text, hint: f.hint, onSelect: () => put({ level: f.value }) }))}
          />
        </span>
      )}
      {(tool === "click" ? level : outlined) === "patch" && (
        <Angle
          words="crease"
          label="Crease angle"
          name="crease"
          hint="Faces join to a patch where they meet at less than this angle"
        />
      )}
      {tool === "click" && level === "facing" && (
        <Angle words="within" label="Facing angle" name="angle" hint="How far a face may look another way" />
      )}
      <Choice label="A click" value={how} onChange={(value) => put({ how: value })} options={WAYS} />
      <span className="-ml-1 flex [&>button]:px-1.5">
        {WHOLE.map(({ text, command }) => (
          <CommandButton key={text} look="quiet" command={command} context={context}>
            {text}
          </CommandButton>
        ))}
        <CommandButton look="quiet" command={commandOf("view-pick")} context={context} disabled={pick.faces === 0}>
          Zoom
        </CommandButton>
      </span>
      <InSight context={context} />
      <PickSets project={project} />
      <PickedLine context={context} />
    </section>
  );
}

interface AngleProps {
  words: string;
  label: string;
  name: "crease" | "angle";
  hint: string;
}

/** An angle that picks go by. */
function Angle({ words, label, name, hint }: AngleProps) {
  const value = usePick((s) => s[name]);
  const take = async (text: string) => {
    const typed = await quantity(text, "angle");
    if (!(typed > 0 && typed <= 180)) throw new Error("this angle is above 0 and at most 180 degrees");
    put({ [name]: typed });
  };
  return (
    <label className="flex items-center gap-1.5" title={hint}>
      <span className="label">{words}</span>
      <NumberField label={label} hideLabel value={plain(value)} unit="°" onCommit={take} className="w-14" />
    </label>
  );
}
