import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";

import { getBytes, getJson } from "../api/client";
import type { BoardsTold, Finish, PatternAsked, Project } from "../api/wire.gen";
import { attempt, sentenceOf } from "../ui/attempt";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Dialog } from "../ui/Dialog";
import { Both, Line, TypedMm } from "../ui/lines";
import { counted, percent, plain } from "../ui/numbers";
import { asking, patternPath, PATTERNS, savePattern, type PatternKind } from "./takingOut";

interface Props {
  project: Project;
  finish: Finish;
  open: boolean;
  onClose: () => void;
}

/** The pieces as a pattern to cut by, as they lie on the sheet or nested on boards. */
export function CutDialog(props: Props) {
  return (
    <Dialog
      title={`Cut out ${props.finish.name}`}
      open={props.open}
      onClose={props.onClose}
      className="w-[56rem]"
      testid="cut-out"
    >
      {props.open && <Asking {...props} />}
    </Dialog>
  );
}

const KINDS = (Object.keys(PATTERNS) as PatternKind[]).map((value) => ({ value, text: PATTERNS[value].text }));

function Asking({ project, finish }: Props) {
  const [kind, setKind] = useState<PatternKind>("svg");
  const [on, setOn] = useState<"sheet" | "boards">("sheet");
  const [size, setSize] = useState<[string, string]>(["2440", "1220"]);
  const [gap, setGap] = useState("5");
  const [margin, setMargin] = useState("5");
  const [turns, setTurns] = useState<NonNullable<PatternAsked["turns"]>>("none");
  const [files, setFiles] = useState<"one" | "each">("one");
  const boards = on === "boards" && kind !== "obj";
  const asked = useMemo<PatternAsked>(
    () => (boards ? { width_mm: size[0], height_mm: size[1], gap_mm: gap, margin_mm: margin, turns } : {}),
    [boards, size, gap, margin, turns],
  );
  return (
    <div className="flex min-h-0 gap-5 px-5 py-4">
      <div className="w-[23rem] shrink-0">
        <Line label="File">
          <Choice label="Kind of file" tight value={kind} onChange={setKind} options={KINDS} />
        </Line>
        {kind !== "obj" && (
          <Line label="Laid">
            <Choice
              label="Pieces laid"
              value={on}
              onChange={setOn}
              options={[
                { value: "sheet", text: "As on the sheet" },
                { value: "boards", text: "On boards" },
              ]}
            />
          </Line>
        )}
        {boards && (
          <>
            <Line label="Board">
              <Both
                labels={["Width of a board", "Height of a board"]}
                values={size}
                unit="mm"
                onCommit={async ([w, h]) => setSize([w ?? size[0], h ?? size[1]])}
              />
            </Line>
            <Line label="Gap">
              <TypedMm label="Gap between pieces" value={gap} onType={setGap} />
              <span className="label">Margin</span>
              <TypedMm label="Margin of a board" value={margin} onType={setMargin} />
            </Line>
            <Line label="Turned">
              <Choice
                label="How pieces may be turned"
                value={turns}
                onChange={setTurns}
                options={[
                  { value: "none", text: "No", hint: "The grain runs along every piece as it does on the sheet" },
                  { value: "half", text: "End for end", hint: "The grain keeps its line" },
                  { value: "quarter", text: "Any quarter", hint: "The grain may run across" },
                ]}
              />
            </Line>
            <Line label="Files">
              <Choice
                label="Files"
                value={files}
                onChange={setFiles}
                options={[
                  { value: "one", text: "All in one" },
                  { value: "each", text: "One a board (ZIP)" },
                ]}
              />
            </Line>
          </>
        )}
        {boards && <Told project={project} finish={finish} asked={asked} />}
        <Button
          look="main"
          className="mt-4 h-9!"
          onClick={() => attempt(savePattern(project, finish, kind, { ...asked, each: boards && files === "each" }))}
        >
          Save {PATTERNS[kind].text}
          {kind === "obj" ? ", flat, in mm" : ", true mm"}
        </Button>
        <p className="mt-3 text-faint">{HINTS[kind]}</p>
      </div>
      <Preview project={project} finish={finish} asked={asked} />
    </div>
  );
}

const LAYERS = "Layers: outlines, inner cuts, folds with their angle, matching marks, grain, numbers, material.";
const PAPER = "At 1:1 over as many sheets as it takes, with a bar to check by a ruler; print without scaling.";

const HINTS: Record<PatternKind, string> = {
  svg: LAYERS,
  dxf: LAYERS,
  a4: PAPER,
  a3: PAPER,
  obj: "The flattened mesh itself: an object for each piece, x and y in mm, with the material’s coordinates.",
};

/** How many boards it takes, how full they are, and what no board holds. */
function Told({ project, finish, asked }: { project: Project; finish: Finish; asked: PatternAsked }) {
  const { data, error, isFetching } = useQuery({
    queryKey: ["boards", project.id, finish.key, finish.laying_key, asked],
    queryFn: () => getJson<BoardsTold>(asking(patternPath(project, finish, "boards.json"), asked)),
    retry: false,
  });
  if (error) return <p className="text-wrong">{sentenceOf(error)}</p>;
  if (!data || isFetching) return <p className="text-faint">Laying them on boards…</p>;
  const [first, ...more] = data.too_large;
  return (
    <div data-testid="boards-told" className="figure mt-1">
      {counted(data.used.length, "board")}
      {data.used.length > 0 && <>, used {data.used.slice(0, 12).map(percent).join(", ")}</>}
      {data.used.length > 12 && "…"}
      {first && (
        <p className="text-wrong">
          Piece {first.number} of {plain(first.size_mm[0], 0)} × {plain(first.size_mm[1], 0)} mm
          {more.length > 0
            ? ` and ${counted(more.length, "other")} fit on no board, and are left out: `
            : " fits on no board, and is left out: "}
          let pieces be turned, take larger boards, or cut further.
        </p>
      )}
    </div>
  );
}

/** The pattern as it will be, drawn by the server. */
function Preview({ project, finish, asked }: { project: Project; finish: Finish; asked: PatternAsked }) {
  const box = useRef<HTMLDivElement>(null);
  const { data, error } = useQuery({
    queryKey: ["pattern", project.id, finish.key, finish.laying_key, asked],
    queryFn: async () => {
      const bytes = await getBytes(asking(patternPath(project, finish, "svg"), asked));
      return new TextDecoder().decode(bytes);
    },
    retry: false,
    gcTime: 0,
  });
  useEffect(() => {
    if (!box.current) return;
    const drawn = data ? new DOMParser().parseFromString(data, "image/svg+xml").documentElement : null;
    drawn?.removeAttribute("width");
    drawn?.removeAttribute("height");
    box.current.replaceChildren(...(drawn ? [document.importNode(drawn, true)] : []));
  }, [data]);
  return (
    <div className="flex h-[26rem] min-w-0 flex-1 items-center justify-center border border-rule bg-sheet p-2">
      {error && <p className="max-w-64 text-wrong">{sentenceOf(error)}</p>}
      {!error && !data && <p className="text-faint">Drawing…</p>}
      <div
        ref={box}
        data-testid="pattern-preview"
        className={`${data && !error ? "contents" : "hidden"} [&_path]:[stroke-width:1px] [&_path]:[vector-effect:non-scaling-stroke] [&_svg]:h-full [&_svg]:max-w-full [&_svg]:min-w-0`}
      />
    </div>
  );
}
