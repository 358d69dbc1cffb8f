import { useEdits, useMaterials } from "../../../../api/project";
import type { Coat, Finish, Options, Project } from "../../../../api/wire.gen";
import { PROJECTION_CHOICES, panelOf, projectionOf, type Kind } from "../../../../projections/registry";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { Both, Check, Line } from "../../../../ui/lines";
import { NumberField } from "../../../../ui/NumberField";
import { mm, plain } from "../../../../ui/numbers";
import { CellsLines } from "./CellsLines";
import { readDegrees, readMm, readShare } from "./typed";

interface Props {
  project: Project;
  finish: Finish;
  row: number;
  change: (of: Partial<Coat>) => Promise<unknown>;
}

/** How the sheet of a coat lies: as the finish beneath it, or by a laying of its own. */
export function CoatSheetLines({ project, finish, row, change }: Props) {
  const { edit } = useEdits(project.id);
  const materials = useMaterials(project);
  const coat = finish.coats[row]!;
  const { projection } = coat;
  const lay = (kind: string) =>
    attempt(
      change({ projection: kind ? projectionOf(kind as Kind, project.model.view_origin_mm) : null, datum: null }),
    );
  const Lines = projection && panelOf(projection.kind).Lines;
  const both = (
    values: [number, number],
    typed: [string | null, string | null],
    read: (text: string) => Promise<number>,
  ) =>
    Promise.all(typed.map(async (text, k) => (text === null ? values[k]! : read(text)))) as Promise<[number, number]>;
  return (
    <>
      <Line label="Laid">
        <select
          aria-label="How the coat is laid"
          className="h-7 w-full border border-rule bg-sheet px-1.5"
          value={projection?.kind ?? ""}
          onChange={(event) => lay(event.target.value)}
        >
          <option value="">as the finish beneath it</option>
          {PROJECTION_CHOICES.map(({ value, text }) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      </Line>
      {Lines && (
        <Lines
          finish={{ ...finish, projection, material: coat.material!, datum: coat.datum }}
          projection={projection}
          closings={[]}
          materials={materials}
          viewOrigin={project.model.view_origin_mm}
          views={project.views}
          set={(options) => {
            const stated = { kind: projection.kind, ...options } as Options;
            return edit({ kind: "set_coat_options", finish: finish.key, row, options: stated });
          }}
          keepCuts={() => Promise.resolve()}
        />
      )}
      <Line label="Turn">
        <NumberField
          hideLabel
          label="Turn of the coat"
          value={plain(coat.turn_deg)}
          unit="°"
          className="w-20"
          onCommit={async (text) => change({ turn_deg: await readDegrees(text) })}
        />
        <Button
          title="Turns it by 90° counter-clockwise"
          onClick={() => attempt(change({ turn_deg: (coat.turn_deg + 90) % 360 }))}
        >
          + 90°
        </Button>
      </Line>
      <Line label="Offset">
        <Both
          values={[mm(coat.offset_mm[0]), mm(coat.offset_mm[1])]}
          labels={["Offset of the coat along", "Offset of the coat up"]}
          unit="mm"
          onCommit={async (typed) => change({ offset_mm: await both(coat.offset_mm, typed, readMm) })}
        />
      </Line>
      <Line label="Scale">
        <Both
          values={[plain(coat.scale[0], 4), plain(coat.scale[1], 4)]}
          labels={["Scale of the coat along", "Scale of the coat up"]}
          onCommit={async (typed) => change({ scale: await both(coat.scale, typed, readShare) })}
        />
      </Line>
      <Line label="Tiling">
        <Check label="show the sheet once" checked={!coat.tile} onChange={(once) => attempt(change({ tile: !once }))} />
      </Line>
      <CellsLines
        cells={coat.cells}
        repeat={project.materials[coat.material!]?.repeat_mm}
        set={(cells) => change({ cells })}
      />
    </>
  );
}
