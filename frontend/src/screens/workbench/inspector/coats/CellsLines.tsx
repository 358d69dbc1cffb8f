import type { Cells, Pair } from "../../../../api/wire.gen";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { Check, Line } from "../../../../ui/lines";
import { NumberField } from "../../../../ui/NumberField";
import { mm, plain } from "../../../../ui/numbers";
import { readDegrees, readMm } from "./typed";

interface Props {
  cells: Cells | null;
  /** The repeat of the material, from which the first cells take their size. */
  repeat?: Pair;
  set: (cells: Cells | null) => Promise<unknown>;
}

/** The sheet cut into random cells, each turned and shifted, so that nobody sees it repeat. */
export function CellsLines({ cells, repeat, set }: Props) {
  const begin = (): Cells => {
    const size_mm = Math.round(Math.min(...(repeat ?? [600, 600])) / 2);
    return { size_mm, width_mm: Math.round(size_mm / 5), turn_deg: "quarters", shift: true, seed: 1 };
  };
  const change = (of: Partial<Cells>) => set({ ...cells!, ...of });
  return (
    <>
      <Line label="Random cells">
        <Check
          label="cut, turn and shift it"
          checked={cells !== null}
          hint="Patches of the sheet, each turned and shifted at random and blended into the next: nobody sees it repeat"
          onChange={(on) => attempt(set(on ? begin() : null))}
        />
      </Line>
      {cells && (
        <>
          <Line label="Cell size">
            <NumberField
              hideLabel
              label="Size of a cell"
              value={mm(cells.size_mm)}
              unit="mm"
              className="w-24"
              onCommit={async (text) => change({ size_mm: await readMm(text) })}
            />
            <span className="label">blended over</span>
            <NumberField
              hideLabel
              label="Width of the blend"
              value={mm(cells.width_mm)}
              unit="mm"
              className="min-w-0 flex-1"
              onCommit={async (text) => change({ width_mm: await readMm(text) })}
            />
          </Line>
          <Line label="Turned by">
            <select
              aria-label="How cells are turned"
              className="h-7 border border-rule bg-sheet px-1.5"
              value={cells.turn_deg === "quarters" ? "quarters" : "free"}
              onChange={(event) => attempt(change({ turn_deg: event.target.value === "quarters" ? "quarters" : 180 }))}
            >
              <option value="quarters">whole quarters</option>
              <option value="free">up to…</option>
            </select>
            {cells.turn_deg !== "quarters" && (
              <NumberField
                hideLabel
                label="Cells turn by up to"
                value={plain(cells.turn_deg)}
                unit="°"
                className="w-20"
                onCommit={async (text) => change({ turn_deg: await readDegrees(text) })}
              />
            )}
          </Line>
          <Line label="">
            <Check label="shift them too" checked={cells.shift} onChange={(shift) => attempt(change({ shift }))} />
            <Button
              className="ml-auto"
              title="Another throw of the dice"
              onClick={() => attempt(change({ seed: cells.seed + 1 }))}
            >
              Other cells
            </Button>
          </Line>
        </>
      )}
    </>
  );
}
