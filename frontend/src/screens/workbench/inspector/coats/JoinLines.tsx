import type { Coat, Joins } from "../../../../api/wire.gen";
import { Line } from "../../../../ui/lines";
import { attempt } from "../../../../ui/attempt";

type Channel = Exclude<keyof Joins, "base_color">;

const CHANNELS: [Channel, string, string[]][] = [
  ["normal", "Normal", ["mix", "add", "none"]],
  ["roughness", "Roughness", ["mix", "multiply", "none"]],
  ["metallic", "Metal", ["mix", "multiply", "none"]],
  ["height", "Height", ["mix", "add", "none"]],
  ["occlusion", "Occlusion", ["mix", "multiply", "none"]],
];

const WORDS: Record<string, string> = { mix: "covers", add: "adds to it", multiply: "times it", none: "leaves it" };

interface Props {
  coat: Coat;
  set: (channels: Joins) => Promise<unknown>;
}

/** How the channels beside the color join what lies beneath. */
export function JoinLines({ coat, set }: Props) {
  const usual = coat.channels.base_color === "multiply" ? "add" : "mix";
  return (
    <details>
      <summary className="label mb-1 cursor-pointer">Other channels</summary>
      {CHANNELS.map(([channel, text, joins]) => (
        <Line key={channel} label={text}>
          <select
            aria-label={`How ${text.toLowerCase()} joins`}
            className="h-7 w-32 border border-rule bg-sheet px-1.5"
            value={coat.channels[channel] ?? usual}
            onChange={(event) => attempt(set({ ...coat.channels, [channel]: event.target.value }))}
          >
            {joins.map((join) => (
              <option key={join} value={join}>
                {WORDS[join]}
              </option>
            ))}
          </select>
        </Line>
      ))}
    </details>
  );
}
