import { useState } from "react";

import { imageUrl } from "../../api/client";
import { useEdits } from "../../api/project";
import type { Channel, LibraryMaterial, Material, Project } from "../../api/wire.gen";
import { Check } from "../../ui/lines";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Confirm } from "../../ui/Confirm";
import { MaterialSelect } from "../../ui/MaterialSelect";
import { NumberField } from "../../ui/NumberField";
import { TextLine } from "../../ui/TextLine";
import { mm, plain } from "../../ui/numbers";
import { useLibraryEdits, type MaterialChange } from "./api";
import { CHANNELS } from "../../looks/channels";
import { JointLines } from "./JointLines";
import { ReadOff } from "./ReadOff";

interface Props {
  project: Project;
  material: Material;
  /** The material of the library by the same key, where there is one. */
  own: LibraryMaterial | undefined;
  library: LibraryMaterial[];
  channel: Channel;
  onChannel: (channel: Channel) => void;
  onCalibrate: () => void;
  onShow: (key: string) => void;
}

/** All that a material says of itself, and what can be done with it. */
export function MaterialFacts({ project, material, own, library, channel, onChannel, onCalibrate, onShow }: Props) {
  const { edit, run } = useEdits(project.id);
  const { change, duplicate, seamless, remove } = useLibraryEdits();
  const [linked, setLinked] = useState(true);
  const inUse = material.key in project.materials;
  const mine = !inUse && own?.own === true;
  const editable = inUse || mine;
  const finishes = project.finishes.filter((f) => f.material === material.key);
  const [width, height] = material.repeat_mm;
  const size = (repeat_mm: [string | null, string | null]) =>
    inUse
      ? edit({ kind: "change_material", material: material.key, repeat_mm, linked })
      : change(material.key, { repeat_mm, linked });
  const setGrain = (text: string) =>
    inUse
      ? edit({ kind: "change_material", material: material.key, grain_deg: text })
      : change(material.key, { grain_deg: text });
  const put = (what: MaterialChange) => change(material.key, what);
  const resized = inUse && own && (own.repeat_mm[0] !== width || own.repeat_mm[1] !== height);
  const elsewhere = (own?.used_in ?? []).filter((p) => p.id !== project.id);

  return (
    <div className="min-h-0 overflow-y-auto pr-1">
      <h2 className="heading mb-1 text-[22px]">{material.name}</h2>
      <p className="mb-3 text-faint">
        {inUse
          ? finishes.length
            ? `Used by ${finishes.map((f) => `${f.key} ${f.name}`).join(", ")}.`
            : "In the project, but no finish uses it now."
          : mine
            ? "Your own. Lay it once to give it a size of its own in a project."
            : "Comes with Pivrel. Duplicate it to change the copy, or lay it to size it in this project."}
        {elsewhere.length > 0 && ` Also in ${elsewhere.map((p) => p.name).join(", ")}.`}
      </p>

      <Title>Real size of one repeat</Title>
      {editable ? (
        <>
          <div className="mb-1.5 flex items-end gap-2">
            <NumberField
              label="Width"
              value={mm(width)}
              unit="mm"
              className="flex-1"
              onCommit={(text) => size([text, null])}
            />
            <NumberField
              label="Height"
              value={mm(height)}
              unit="mm"
              className="flex-1"
              onCommit={(text) => size([null, text])}
            />
          </div>
          <div className="mb-3 flex items-center justify-between">
            <Check
              label="as the image"
              checked={linked}
              onChange={setLinked}
              hint="Width and height keep the image’s proportions"
            />
            <Button title="Mark two places on the image whose true distance you know" onClick={onCalibrate}>
              Calibrate…
            </Button>
          </div>
        </>
      ) : (
        <p className="figure mb-3 text-[19px]">
          {mm(width)} × {mm(height)} mm
        </p>
      )}
      {material.estimated && (
        <p className="-mt-1.5 mb-3 text-wrong">
          This size is an estimate from the model’s coordinates. Type or calibrate it to confirm it.
        </p>
      )}
      {resized && (
        <p className="label -mt-1.5 mb-3">
          The library has it at {mm(own.repeat_mm[0])} × {mm(own.repeat_mm[1])} mm.
        </p>
      )}

      <Title>Grain</Title>
      <div className="mb-1 flex items-center gap-3">
        {material.grain_deg == null && !mine ? (
          <p>It has no direction.</p>
        ) : editable ? (
          <NumberField
            hideLabel
            label="Grain"
            value={material.grain_deg == null ? "none" : plain(material.grain_deg)}
            unit="°"
            className="w-24"
            onCommit={setGrain}
          />
        ) : (
          <span className="figure text-[17px]">{plain(material.grain_deg!)}°</span>
        )}
        {material.grain_deg != null && (
          <span className="label">{mine ? "from level" : "counter-clockwise from level"}</span>
        )}
        {mine && material.grain_deg != null && (
          <Button look="quiet" onClick={() => void put({ grain_deg: "none" })}>
            None
          </Button>
        )}
      </div>
      <ReadOff
        material={material}
        onGrain={editable ? setGrain : null}
        onMend={() => void seamless(material.key).then((made) => made && onShow(made.key))}
        mendable={own !== undefined}
      />

      <Title>Joints</Title>
      <JointLines
        joints={material.joints ?? null}
        onChange={mine ? (joints) => put({ joints: joints ?? "none" }) : null}
      />

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
              {!mine && <span className="label block">{text}</span>}
            </button>
            {mine && (
              <select
                aria-label={`Channel of the ${text.toLowerCase()} image`}
                className="h-6 w-full border border-rule bg-sheet text-[13px]"
                value={name}
                onChange={(event) =>
                  void put({ channels: { [name]: (event.target.value || null) as Channel | null } }).catch(
                    () => undefined,
                  )
                }
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
          {editable ? (
            <Choice
              label="Green of the normal map"
              value={material.normal_y ?? "+"}
              onChange={(normal_y) =>
                inUse ? run({ kind: "change_material", material: material.key, normal_y }) : void put({ normal_y })
              }
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
      {material.metallic > 0 && <p className="label mb-2">Metallic: {plain(material.metallic)}</p>}

      {mine && (
        <>
          <Title>Pieces may be</Title>
          <div className="mb-2 flex gap-4">
            <Check
              label="turned by half"
              checked={material.half_turns ?? false}
              onChange={(half_turns) => void put({ half_turns })}
            />
            <Check label="flipped" checked={material.mirrors ?? false} onChange={(mirrors) => void put({ mirrors })} />
          </div>
          <Title>Name and tags</Title>
          <TextLine label="Name" value={material.name} onCommit={(name) => put({ name })} />
          <TextLine
            label="Tags"
            value={(material.tags ?? []).join(", ")}
            onCommit={(text) =>
              put({
                tags: text
                  .split(",")
                  .map((t) => t.trim())
                  .filter(Boolean),
              })
            }
          />
        </>
      )}

      <Title>Do</Title>
      <div className="flex flex-wrap gap-1.5 pb-4">
        {inUse && finishes.length > 0 && (
          <MaterialSelect
            label="Put another material in its place"
            value=""
            materials={library.filter((m) => m.key !== material.key)}
            first={{ value: "", text: "Put another in its place, on all uses…" }}
            onChange={(to) => to && run({ kind: "swap_material", material: material.key, to })}
          />
        )}
        {own && (
          <>
            <Button onClick={() => void duplicate(material.key).then((made) => made && onShow(made.key))}>
              Duplicate
            </Button>
            <a
              className="inline-flex h-7 items-center border border-rule bg-sheet px-2.5 hover:border-ink"
              href={`/api/library/${material.key}/file`}
              title="Its images and a JSON, as one file"
              download
            >
              Save as a file
            </a>
            <a
              className="inline-flex h-7 items-center border border-rule bg-sheet px-2.5 hover:border-ink"
              href={`/api/library/${material.key}/materialx`}
              download
            >
              MaterialX
            </a>
          </>
        )}
        {mine && (
          <Confirm
            title={`Delete ${material.name}?`}
            text={
              elsewhere.length
                ? `It leaves the library. ${elsewhere.map((p) => p.name).join(", ")} ${elsewhere.length === 1 ? "uses" : "use"} it and will keep it.`
                : "It leaves the library. No project uses it."
            }
            action="Delete it"
            onConfirm={() => void remove(material.key)}
          >
            <Button look="wrong">Delete</Button>
          </Confirm>
        )}
      </div>
    </div>
  );
}

function Title({ children }: { children: string }) {
  return <h3 className="mb-1.5 border-b border-rule font-figure font-semibold">{children}</h3>;
}
