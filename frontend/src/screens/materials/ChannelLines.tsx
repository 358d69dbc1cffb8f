import { imageUrl } from "../../api/client";
import type { Channel, Material } from "../../api/wire.gen";
import { CHANNELS } from "../../looks/channels";
import { Choice } from "../../ui/Choice";
import { Title } from "./Title";

interface Props {
  material: Material;
  channel: Channel;
  onChannel: (channel: Channel) => void;
  /** Says what an image is; null where that is not to be changed. */
  onSort: ((from: Channel, to: Channel | null) => void) | null;
  onGreen: ((normal_y: "+" | "-") => void) | null;
}

/** The images of a material by their channels. */
export function ChannelLines({ material, channel, onChannel, onSort, onGreen }: Props) {
  return (
    <>
      <Title>Channels</Title>
      <ul className="mb-2 grid grid-cols-3 gap-1.5">
        {CHANNELS.filter((c) => material.images[c.channel]).map(({ channel: name, text }) => (
          <li key={name} className="min-w-0">
            <button
              type="button"
              aria-pressed={channel === name}
              onClick={() => onChannel(name)}
              className={`block w-full border-2 p-0.5 ${channel === name ? "border-hand" : "border-transparent hover:border-rule"}`}
            >
              <img
                src={imageUrl(material.images[name]!, 160)}
                alt=""
                className="aspect-square w-full border border-ink/40 object-cover"
              />
              {!onSort && <span className="label block">{text}</span>}
            </button>
            {onSort && (
              <select
                aria-label={`Channel of the ${text.toLowerCase()} image`}
                className="h-6 w-full border border-rule bg-sheet text-[13px]"
                value={name}
                onChange={(event) => onSort(name, (event.target.value || null) as Channel | null)}
              >
                {CHANNELS.map((c) => (
                  <option key={c.channel} value={c.channel}>
                    {c.text}
                  </option>
                ))}
                <option value="">not used</option>
              </select>
            )}
          </li>
        ))}
      </ul>
      {material.images.normal && (
        <div className="mb-2 flex items-center gap-2">
          <span className="label">green of the normal map</span>
          {onGreen ? (
            <Choice
              label="Green of the normal map"
              value={material.normal_y ?? "+"}
              onChange={onGreen}
              options={[
                { value: "+", text: "up (+Y)", hint: "Bumps are lit from above where green is bright" },
                { value: "-", text: "down (−Y)", hint: "The other way round: choose it where bumps look like hollows" },
              ]}
            />
          ) : (
            <span className="figure">{material.normal_y === "-" ? "down (−Y)" : "up (+Y)"}</span>
          )}
        </div>
      )}
    </>
  );
}
