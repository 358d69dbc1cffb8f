import { memo } from "react";

import type { Level, Model } from "../../../api/wire.gen";
import { commandOf } from "../../../commands/registry";
import { put } from "../../../state";
import { usePick, type ClickWay, type Tool } from "../../../state/pick";
import { Word, type WordOption } from "../../../ui/Word";
import { AngleWord } from "./AngleWord";

interface LevelOption extends WordOption<Level> {
  /** Whether the model file states what this goes by. */
  there?: (model: Model) => boolean;
}

const key = (id: string) => commandOf(id).key;

const LEVELS: LevelOption[] = [
  { value: "face", text: "faces", hint: "One polygon", shortcut: key("level-face") },
  { value: "patch", text: "patches", hint: "Faces that join smoothly", shortcut: key("level-patch") },
  { value: "part", text: "parts", hint: "A named object of the file", shortcut: key("level-part") },
  { value: "ring", text: "rings", hint: "The faces that go round, over the edge nearest to the click" },
  { value: "plane", text: "planes", hint: "All faces in the same plane" },
  { value: "facing", text: "faces that look alike", hint: "Faces of the part that look the same way" },
  { value: "shape", text: "copies", hint: "All parts of the same shape" },
  { value: "surface", text: "surfaces", hint: "All patches on the same exact surface", there: (model) => model.exact },
  { value: "element", text: "element types", hint: "All walls, all slabs …", there: (model) => model.elements },
  { value: "storey", text: "storeys", hint: "Everything on the storey", there: (model) => model.storeys },
  {
    value: "source",
    text: "the file’s materials",
    hint: "What the file makes of one material",
    there: (model) => model.sources.length > 0,
  },
];

const OUTLINED = [
  { value: "face" as const, text: "faces", hint: "The faces that the outline holds", shortcut: key("level-face") },
  {
    value: "patch" as const,
    text: "patches",
    hint: "Every patch that the outline holds a face of",
    shortcut: key("level-patch"),
  },
  {
    value: "part" as const,
    text: "parts",
    hint: "Every part that the outline holds a face of",
    shortcut: key("level-part"),
  },
];

const TOOLS: WordOption<Tool>[] = [
  { value: "click", text: "click", shortcut: key("tool-click") },
  { value: "rectangle", text: "rectangle", hint: "Drag it; the right button pans", shortcut: key("tool-rectangle") },
  { value: "outline", text: "outline", hint: "Drawn round the faces with the pointer", shortcut: key("tool-outline") },
];

const WAYS: WordOption<ClickWay>[] = [
  { value: "replace", text: "as a new pick" },
  { value: "add", text: "added to the pick", hint: "Or hold Shift" },
  { value: "remove", text: "taken off the pick", hint: "Or hold Ctrl" },
  { value: "keep", text: "where both overlap", hint: "Leaves what is in both, the pick and what is pointed at" },
];

const SEEN = [
  { value: "seen" as const, text: "only what is seen" },
  { value: "through" as const, text: "through the model", hint: "Also what lies behind" },
];

const HELD = [
  { value: "whole" as const, text: "wholly", hint: "Only faces that lie wholly within" },
  { value: "touched" as const, text: "also partly", hint: "Faces that the outline touches" },
];

/** What a press on the model picks, and how, as a sentence whose words are choices. */
export const PickSentence = memo(function PickSentence({ model }: { model: Model }) {
  const { level, how, tool, through, whole, outlined } = usePick();
  const by = <Word label="Picks by" value={tool} onChange={(value) => put({ tool: value })} options={TOOLS} />;
  const what = tool === "click" ? level : outlined;
  return (
    <p className="flex shrink-0 items-baseline gap-x-[0.3em] whitespace-nowrap">
      <span>Pick</span>
      {tool === "click" ? (
        <Word
          label="A click picks"
          value={level}
          onChange={(value) => put({ level: value })}
          options={LEVELS.filter(({ there }) => there?.(model) ?? true)}
        />
      ) : (
        <Word
          label="An outline picks"
          value={outlined}
          onChange={(value) => put({ outlined: value })}
          options={OUTLINED}
        />
      )}
      {what === "patch" && (
        <AngleWord
          name="crease"
          words="creased at"
          label="Crease angle"
          hint="Faces join to a patch where they meet at less than this angle"
        />
      )}
      {what === "facing" && (
        <AngleWord name="angle" words="within" label="Facing angle" hint="How far a face may look another way" />
      )}
      {tool === "click" ? (
        <span>by {by},</span>
      ) : (
        <>
          <Word
            label="Faces within"
            value={whole ? "whole" : "touched"}
            onChange={(value) => put({ whole: value === "whole" })}
            options={HELD}
          />
          <span>
            in a{tool === "outline" ? "n" : ""} {by},
          </span>
          <Word
            label="Takes"
            value={through ? "through" : "seen"}
            onChange={(value) => put({ through: value === "through" })}
            options={SEEN}
          />
          <span className="-ml-[0.3em]">,</span>
        </>
      )}
      <Word label="The pick" value={how} onChange={(value) => put({ how: value })} options={WAYS} />
    </p>
  );
});
