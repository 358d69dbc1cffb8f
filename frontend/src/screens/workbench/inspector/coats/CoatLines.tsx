import { useEdits, useMaterials } from "../../../../api/project";
import type { Coat, Finish, Project } from "../../../../api/wire.gen";
import { attempt } from "../../../../ui/attempt";
import { Choice } from "../../../../ui/Choice";
import { ColorField } from "../../../../ui/ColorField";
import { Line } from "../../../../ui/lines";
import { MaterialSelect } from "../../../../ui/MaterialSelect";
import { NumberField } from "../../../../ui/NumberField";
import { plain } from "../../../../ui/numbers";
import { TextLine } from "../../../../ui/TextLine";
import { BrushLines } from "./BrushLines";
import { CoatSheetLines } from "./CoatSheetLines";
import { JoinLines } from "./JoinLines";
import { MaskLines } from "./MaskLines";
import { readUnit } from "./typed";
import type { Coats } from "./useCoats";

interface Props {
  project: Project;
  finish: Finish;
  row: number;
  coats: Coats;
}

/** What has just been opened is seen from its beginning. */
const intoSight = (element: HTMLElement | null) => element?.parentElement?.scrollIntoView({ block: "start" });

/** All that one coat states: what it is, where it lies, how it joins. */
export function CoatLines({ project, finish, row, coats }: Props) {
  const { edit } = useEdits(project.id);
  const materials = useMaterials(project);
  const coat = finish.coats[row]!;
  const change = (of: Partial<Coat>) => coats.change(row, of);
  const choose = (key: string) => {
    // What was there to be seen at once makes way for the material's own color.
    const first = key && !coat.material;
    const joins = first ? { ...coat.channels, base_color: "mix" as const } : coat.channels;
    const own = key ? {} : { projection: null, datum: null };
    attempt(change({ material: key || null, tint: first ? null : coat.tint, channels: joins, ...own }));
  };
  return (
    <div ref={intoSight} className="mb-2 ml-1 border-l border-rule pl-2.5" data-testid="coat">
      <TextLine label="Name of the coat" value={coat.name} onCommit={(name) => change({ name })} />
      <Line label="Material">
        <MaterialSelect
          label="Material of the coat"
          value={coat.material ?? ""}
          materials={materials}
          first={{ value: "", text: "none: it only tints" }}
          onChange={choose}
        />
      </Line>
      <Line label="Color">
        <Choice
          tight
          label="How its color joins"
          value={coat.channels.base_color}
          onChange={(base_color) => attempt(change({ channels: { ...coat.channels, base_color } }))}
          options={[
            { value: "mix", text: "Covers", hint: "Its own color, as far as it lies there" },
            { value: "multiply", text: "Stains", hint: "What lies beneath, times its color" },
            { value: "none", text: "Leaves", hint: "The color beneath stays" },
          ]}
        />
      </Line>
      <Line label="Tint">
        <ColorField
          label="Tint of the coat"
          value={coat.tint}
          none="none"
          onLive={(tint) => coats.live(row, { tint })}
          onCommit={(tint) => attempt(change({ tint }))}
        />
      </Line>
      <Line label="Strength">
        <ShareField label="Strength" value={coat.strength} onTyped={(strength) => change({ strength })} />
      </Line>
      <Line label="Roughness">
        <OwnValue label="Roughness" value={coat.roughness} onTyped={(roughness) => change({ roughness })} />
      </Line>
      <Line label="Metal">
        <OwnValue label="Metal" value={coat.metallic} onTyped={(metallic) => change({ metallic })} />
      </Line>
      <MaskLines
        where={coat.where}
        materials={materials}
        add={(start) => edit({ kind: "add_mask", finish: finish.key, row, start })}
        set={(where) => change({ where })}
        brush={<BrushLines project={project} finish={finish} row={row} change={change} />}
      />
      {coat.material && <CoatSheetLines project={project} finish={finish} row={row} change={change} />}
      {coat.material && <JoinLines coat={coat} set={(channels) => change({ channels })} />}
    </div>
  );
}

function ShareField({
  label,
  value,
  onTyped,
}: {
  label: string;
  value: number;
  onTyped: (v: number) => Promise<unknown>;
}) {
  return (
    <NumberField
      hideLabel
      label={label}
      value={`${plain(value * 100, 1)} %`}
      className="w-20"
      onCommit={async (text) => onTyped(await readUnit(text))}
    />
  );
}

/** A value that takes the place of the material's; empty where the material's counts. */
function OwnValue({
  label,
  value,
  onTyped,
}: {
  label: string;
  value: number | null;
  onTyped: (v: number | null) => Promise<unknown>;
}) {
  return (
    <>
      <NumberField
        hideLabel
        label={label}
        value={value === null ? "" : plain(value, 3)}
        className="w-20"
        onCommit={async (text) => onTyped(text.trim() ? await readUnit(text) : null)}
      />
      <span className="label">{value === null ? "as it is" : "empty: as it is"}</span>
    </>
  );
}
