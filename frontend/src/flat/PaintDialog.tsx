import { useRef, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";

import { useEdits } from "../api/project";
import type { Finish, FlatPicture, Project } from "../api/wire.gen";
import { useLook } from "../state/look";
import { attempt } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Dialog } from "../ui/Dialog";
import { FileInput } from "../ui/FileInput";
import { Check, Line, TypedMm } from "../ui/lines";
import { useNotices } from "../ui/notices";
import { NumberField } from "../ui/NumberField";
import { area, plain } from "../ui/numbers";
import { boxOf, type Flat } from "./pieces";
import { bringPainted, saveFlatPicture } from "./takingOut";

interface Props {
  project: Project;
  finish: Finish;
  flat: Flat;
  open: boolean;
  onClose: () => void;
}

/** The flat view as a picture to paint on elsewhere, and the painted one back at its place. */
export function PaintDialog(props: Props) {
  return (
    <Dialog
      title={`Paint ${props.finish.name}`}
      open={props.open}
      onClose={props.onClose}
      className="w-[35rem]"
      testid="paint"
    >
      {props.open && <Asking {...props} />}
    </Dialog>
  );
}

/** A typed number without its unit, or the text as it is: the server says what is wrong with that. */
const numberOf = (text: string) => Number(text.replace(",", "."));

function Asking({ project, finish, flat, onClose }: Props) {
  const [shows, setShows] = useState<NonNullable<FlatPicture["shows"]>>("material");
  const [by, setBy] = useState<"per_m" | "longest">("longest");
  const [perM, setPerM] = useState("1000");
  const [longest, setLongest] = useState("4096");
  const [bleed, setBleed] = useState("10");
  const [outlines, setOutlines] = useState(true);
  const square = useLook((s) => s.squareMm) ?? project.model.checker_mm;
  const asked: FlatPicture = {
    ...(by === "per_m" ? { per_m: numberOf(perM) } : { longest: numberOf(longest) }),
    bleed_mm: bleed,
    shows,
    square_mm: square,
    outlines,
  };
  const [width, height] = pixels(flat, asked);
  return (
    <div className="px-5 py-4">
      <Line label="Shows">
        <Choice
          label="What the picture shows"
          value={shows}
          onChange={setShows}
          options={[
            { value: "material", text: "Material" },
            { value: "checker", text: "Checker" },
            { value: "plain", text: "Plain grey" },
          ]}
        />
      </Line>
      <Line label="Pixels">
        <Choice
          label="Pixels by"
          value={by}
          onChange={setBy}
          options={[
            { value: "longest", text: "Longest side" },
            { value: "per_m", text: "Per metre" },
          ]}
        />
        <NumberField
          hideLabel
          label={by === "per_m" ? "Pixels per metre" : "Pixels of the longest side"}
          value={by === "per_m" ? perM : longest}
          unit="px"
          className="w-28"
          onCommit={async (text) => (by === "per_m" ? setPerM : setLongest)(positive(text))}
        />
      </Line>
      <Line label="Bleed">
        <TypedMm label="Bleed" value={bleed} onType={setBleed} />
        <span className="text-faint">that the sheet goes on beyond each outline</span>
      </Line>
      <Line label="Drawn">
        <Check label="outlines of the pieces" checked={outlines} onChange={setOutlines} />
      </Line>
      {flat.overlapM2 > 0 && (
        <p className="mt-3 border-l-2 border-wrong pl-2">
          Pieces share {area(flat.overlapM2)} of the sheet: what is painted there shows on each of them. Set them apart
          first to paint them each.
        </p>
      )}
      <div className="mt-4 flex items-center gap-3">
        <Button look="main" className="h-9!" onClick={() => attempt(saveFlatPicture(project, finish, asked))}>
          Save {plain(width, 0)} × {plain(height, 0)} as PNG
        </Button>
        <Bring project={project} finish={finish} asked={asked} onDone={onClose} />
      </div>
      <p className="mt-3 text-faint">
        The painted picture is laid as a single sheet where it was taken out. It may have more pixels or fewer, as long
        as it is not cropped.
      </p>
    </div>
  );
}

function Bring({
  project,
  finish,
  asked,
  onDone,
}: {
  project: Project;
  finish: Finish;
  asked: FlatPicture;
  onDone: () => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const { edit } = useEdits(project.id);
  const queries = useQueryClient();
  const bring = async (file: File) => {
    const brought = await bringPainted(project, finish, file, asked);
    await queries.invalidateQueries({ queryKey: ["library"] });
    await edit(brought.edit);
    useNotices.getState().say(brought.said || `${file.name} lies on ${finish.name}, where it was taken out`);
    onDone();
  };
  return (
    <>
      <Button className="h-9!" onClick={() => input.current?.click()}>
        Bring a painted picture…
      </Button>
      <FileInput
        ref={input}
        multiple={false}
        accept="image/*"
        aria-label="A painted picture"
        onFiles={([file]) => file && attempt(bring(file))}
      />
    </>
  );
}

function positive(text: string): string {
  const value = numberOf(text);
  if (!(value > 0)) throw new Error("a number of pixels is above zero");
  return String(value);
}

/** How many pixels the picture will have. */
function pixels(flat: Flat, { per_m, longest, bleed_mm }: FlatPicture): [number, number] {
  const box = boxOf(flat.pieces) ?? [0, 0, 1, 1];
  const more = 2 * (numberOf(String(bleed_mm)) || 0);
  const size = [box[2] - box[0] + more, box[3] - box[1] + more] as const;
  const perMm = per_m ? per_m / 1000 : (longest ?? 0) / Math.max(...size);
  return [Math.ceil(size[0] * perMm - 1e-6), Math.ceil(size[1] * perMm - 1e-6)];
}
