import { FlipHorizontal2, FlipVertical2, RotateCcw, RotateCw } from "lucide-react";
import { useState } from "react";

import type { Finish } from "../../../api/wire.gen";
import { commandOf, withKey } from "../../../commands/registry";
import { useUnderHand } from "../../../state/hand";
import { Button } from "../../../ui/Button";
import { Both, Check, Line } from "../../../ui/lines";
import { NumberField } from "../../../ui/NumberField";
import { mm, plain } from "../../../ui/numbers";
import { CellsLines } from "./coats/CellsLines";
import { sharedBy, type Changing } from "./changing";

interface Props extends Changing {
  finishes: Finish[];
  turn: (degrees: number) => void;
}

/** How the sheet is turned, flipped, sized and shifted. */
export function SheetLines({ finishes: stored, change, now, turn }: Props) {
  const [linked, setLinked] = useState(true);
  const finishes = useUnderHand(stored, "turn_deg", "offset_mm", "scale");
  const shared = (show: (finish: Finish) => string) => sharedBy(finishes, show);
  return (
    <>
      <Line label="Turn">
        <NumberField
          hideLabel
          label="Turn"
          value={shared((f) => plain(f.turn_deg))}
          unit="°"
          className="w-20"
          onCommit={(turn_deg) => change({ kind: "turn_to", turn_deg })}
        />
        <Button
          aria-label="Turn by 90 degrees"
          title={withKey(
            "Turn by 90° counter-clockwise; the picked faces alone, where a pick lies within the finish",
            "turn",
          )}
          onClick={() => turn(90)}
          shortcut={commandOf("turn").key}
        >
          <RotateCcw size={14} aria-hidden /> 90°
        </Button>
        <Button
          look="quiet"
          tight
          aria-label="Turn back by 90 degrees"
          title={withKey("Turn by 90° clockwise", "turn-back")}
          onClick={() => turn(-90)}
        >
          <RotateCw size={14} aria-hidden />
        </Button>
      </Line>
      <Line label="Flip">
        <Button
          aria-label="Flip along"
          title="Mirrors the sheet along its width"
          onClick={() => now({ kind: "flip", way: "along" })}
        >
          <FlipHorizontal2 size={14} aria-hidden /> along
        </Button>
        <Button
          aria-label="Flip up"
          title="Mirrors the sheet along its height"
          onClick={() => now({ kind: "flip", way: "up" })}
        >
          <FlipVertical2 size={14} aria-hidden /> up
        </Button>
        {finishes.some((f) => f.scale[0] * f.scale[1] < 0) && <span className="label ml-auto">mirrored</span>}
      </Line>
      <Line label="Repeat">
        <Both
          values={[shared((f) => mm(f.repeat_mm[0])), shared((f) => mm(f.repeat_mm[1]))]}
          labels={["Repeat width", "Repeat height"]}
          unit="mm"
          onCommit={(repeat_mm) => change({ kind: "repeat", repeat_mm, linked })}
        />
      </Line>
      <Line label="Scale">
        <Both
          values={[shared((f) => plain(f.scale[0], 4)), shared((f) => plain(f.scale[1], 4))]}
          labels={["Scale along", "Scale up"]}
          onCommit={([a, b]) => change({ kind: "scale", scale: linked ? [a ?? b, b ?? a] : [a, b] })}
        />
      </Line>
      <Line label="">
        <Check label="keep proportions" checked={linked} onChange={setLinked} />
      </Line>
      <Line label="Offset">
        <Both
          values={[shared((f) => mm(f.offset_mm[0])), shared((f) => mm(f.offset_mm[1]))]}
          labels={["Offset along", "Offset up"]}
          unit="mm"
          onCommit={(offset_mm) => change({ kind: "offset", offset_mm })}
        />
      </Line>
      <Line label="Tiling">
        <Check
          label="show the sheet once"
          checked={finishes.every((f) => !f.tile)}
          onChange={(once) => now({ kind: "tile", tile: !once })}
          hint="Around the one sheet the faces keep what lies beneath"
        />
      </Line>
      {finishes.length === 1 && (
        <CellsLines
          cells={finishes[0]!.cells}
          repeat={finishes[0]!.repeat_mm}
          set={(cells) => change({ kind: "set_cells", cells })}
        />
      )}
    </>
  );
}
