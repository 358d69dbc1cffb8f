import { X } from "lucide-react";
import { useState, type MouseEvent } from "react";

import { imageUrl } from "../../../api/client";
import { useDatumDrawing } from "../../../api/project";
import type { Finish, Pair, Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Dialog } from "../../../ui/Dialog";
import { Line } from "../../../ui/lines";
import { mm } from "../../../ui/numbers";
import type { Changing } from "./changing";

interface Props extends Pick<Changing, "now"> {
  project: Project;
  finish: Finish;
}

/** Places of the sheet that fall on places of the model: marked on its image, then on the model, as often as wanted. */
export function TieLines({ project, finish, now }: Props) {
  const { data: drawing } = useDatumDrawing(project, finish);
  const [marking, setMarking] = useState(false);
  const { tie } = finish;
  return (
    <>
      <Line label="Tie">
        <Button
          title="Mark a place on the sheet, then where it shall fall on the model"
          onClick={() => setMarking(true)}
        >
          Mark…
        </Button>
        {tie.length > 0 && (
          <Button title="Nothing is tied any more" onClick={() => now({ kind: "set_ties", tie: [] })}>
            All off
          </Button>
        )}
      </Line>
      {tie.length > 0 && (
        <>
          <ul aria-label="Ties" className="figure mb-1.5 border border-rule bg-sheet">
            {tie.map(({ sheet_mm }, row) => (
              <li key={row} className="flex items-center gap-2 border-b border-rule px-2 last:border-b-0">
                <span className="flex-1">
                  {mm(sheet_mm[0])}, {mm(sheet_mm[1])}
                </span>
                <span className="text-faint">{missed(drawing?.tie_off_mm?.[row])}</span>
                <Button
                  look="quiet"
                  tight
                  aria-label={`Take tie ${row + 1} off`}
                  onClick={() => now({ kind: "set_ties", tie: tie.filter((_, other) => other !== row) })}
                >
                  <X size={14} />
                </Button>
              </li>
            ))}
          </ul>
          <Line label="May">
            <Choice
              label="What ties may do"
              tight
              value={finish.tie_by}
              onChange={(by) => now({ kind: "set_ties", tie, by })}
              options={[
                { value: "move", text: "move", hint: "The sheet is only moved" },
                { value: "turn", text: "turn", hint: "And turned: it keeps its size" },
                { value: "scale", text: "size", hint: "And sized: it keeps its angles" },
                { value: "skew", text: "skew", hint: "And skewed, with three ties or more" },
              ]}
            />
          </Line>
        </>
      )}
      <Dialog title="Mark a place on the sheet" open={marking} onClose={() => setMarking(false)} testid="tie-mark">
        <Sheet
          project={project}
          finish={finish}
          onMark={(sheet_mm) => {
            setMarking(false);
            put({ task: { what: "tie", finish: finish.key, sheet_mm } });
          }}
        />
      </Dialog>
    </>
  );
}

const missed = (off?: number) => (off === undefined ? "" : off < 0.05 ? "meets it" : `misses it by ${mm(off)} mm`);

const LARGEST = 560;

/** One repeat of the material, to be marked. */
function Sheet({ project, finish, onMark }: { project: Project; finish: Finish; onMark: (at: Pair) => void }) {
  const material = project.materials[finish.material];
  if (!material) return null;
  const [width, height] = material.repeat_mm;
  const size = LARGEST / Math.max(width, height);
  const image = material.images.base_color;
  const mark = (event: MouseEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = [(event.clientX - box.left) / box.width, 1 - (event.clientY - box.top) / box.height];
    onMark([Math.round(share[0]! * width * 100) / 100, Math.round(share[1]! * height * 100) / 100]);
  };
  return (
    <button
      type="button"
      aria-label="One repeat of the sheet: click the place to be tied"
      className="m-5 cursor-crosshair border border-ink bg-shade bg-[length:100%_100%]"
      style={{
        width: width * size,
        height: height * size,
        backgroundImage: image ? `url(${imageUrl(image, 512)})` : undefined,
      }}
      onClick={mark}
    />
  );
}
