import { Popover } from "radix-ui";

import { quantity } from "../../../api/quantity";
import { put } from "../../../state";
import { usePick } from "../../../state/pick";
import { NumberField } from "../../../ui/NumberField";
import { plain } from "../../../ui/numbers";

interface Props {
  name: "crease" | "angle";
  words: string;
  label: string;
  hint: string;
}

/** An angle that picks go by, as a word of the sentence; a press lets it be typed. */
export function AngleWord({ name, words, label, hint }: Props) {
  const value = usePick((s) => s[name]);
  const take = async (text: string) => {
    const typed = await quantity(text, "angle");
    if (!(typed > 0 && typed <= 180)) throw new Error("this angle is above 0 and at most 180 degrees");
    put({ [name]: typed });
  };
  return (
    <Popover.Root>
      <span className="label">{words}</span>
      <Popover.Trigger
        title={hint}
        aria-label={`${label}: ${plain(value)}°`}
        data-word={label}
        className="figure border-b border-dotted border-hand text-hand hover:bg-hand-wash"
      >
        {plain(value)}°
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={label}
          className="z-40 w-56 border border-ink bg-paper p-3 shadow-lg"
        >
          <NumberField label={label} value={plain(value)} unit="°" onCommit={take} />
          <p className="label mt-1.5">{hint}.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
