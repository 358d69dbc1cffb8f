import { useEdits } from "../../api/project";
import type { Channel, LibraryMaterial, Material, MaterialChange, Project } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Check } from "../../ui/lines";
import { NumberField } from "../../ui/NumberField";
import { TextLine } from "../../ui/TextLine";
import { plain } from "../../ui/numbers";
import { useLibraryEdits } from "./api";
import { ChannelLines } from "./ChannelLines";
import { JointLines } from "./JointLines";
import { MaterialActions } from "./MaterialActions";
import { ReadOff } from "./ReadOff";
import { SizeLines } from "./SizeLines";
import { Title } from "./Title";

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
  const { change, seamless } = useLibraryEdits();
  const inUse = material.key in project.materials;
  const mine = !inUse && own?.own === true;
  const editable = inUse || mine;
  const finishes = project.finishes.filter((f) => f.material === material.key);
  const size = (repeat_mm: [string | null, string | null], linked: boolean) =>
    inUse
      ? edit({ kind: "change_material", material: material.key, repeat_mm, linked })
      : change(material.key, { repeat_mm, linked });
  const setGrain = (text: string) =>
    inUse
      ? edit({ kind: "change_material", material: material.key, grain_deg: text })
      : change(material.key, { grain_deg: text });
  const put = (what: MaterialChange) => change(material.key, what);
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

      <SizeLines
        material={material}
        original={inUse ? own : undefined}
        onSize={editable ? size : null}
        onCalibrate={onCalibrate}
      />

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

      <ChannelLines
        material={material}
        channel={channel}
        onChannel={onChannel}
        onSort={mine ? (from, to) => void put({ channels: { [from]: to } }).catch(() => undefined) : null}
        onGreen={
          editable
            ? (normal_y) =>
                inUse ? run({ kind: "change_material", material: material.key, normal_y }) : void put({ normal_y })
            : null
        }
      />
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

      <MaterialActions
        material={material}
        own={own}
        library={library}
        mine={mine}
        elsewhere={elsewhere}
        onSwap={
          inUse && finishes.length > 0 ? (to) => run({ kind: "swap_material", material: material.key, to }) : null
        }
        onShow={onShow}
      />
    </div>
  );
}
