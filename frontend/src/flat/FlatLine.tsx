import { useState } from "react";

import { useEdits } from "../api/project";
import type { Edit, Finish, FlatPiece, PickRequest, Project } from "../api/wire.gen";
import { put } from "../state";
import { usePick } from "../state/pick";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { area, counted, plain, ratio } from "../ui/numbers";
import { Menu } from "../ui/Menu";
import { CutDialog } from "./CutDialog";
import { PaintDialog } from "./PaintDialog";
import { frame } from "./flatEye";
import { asideOf, boxOf, drawnBox, piecesIn, type Flat } from "./pieces";

type Pick = (request: PickRequest) => unknown;

interface Props {
  project: Project;
  finish: Finish;
  flat: Flat;
  picked: ReadonlySet<number>;
}

/** One line over the sheet: what is done with the pieces in hand, and what they come to. */
export function FlatLine({ project, finish, flat, picked }: Props) {
  const { run, edit } = useEdits(project.id);
  const rule = usePick((s) => s.pick.rule);
  const [out, setOut] = useState<"paint" | "cut" | null>(null);
  const own = piecesIn(flat, picked);
  const none = own.length === 0;
  const move = (how: Partial<Extract<Edit, { kind: "move_pieces" }>>) =>
    run({ kind: "move_pieces", finish: finish.key, pick: rule, ...how });
  const of = none ? { all: true as const } : rule;
  const arrange = (how: "apart" | "packed" | "stacked" | "split", turns?: "half" | "quarter") =>
    run({ kind: "arrange_pieces", finish: finish.key, pick: of, how, turns });
  const avoid = (forget = false) => run({ kind: "avoid", finish: finish.key, pick: of, forget });
  const flattened = finish.projection.kind === "flatten";
  const lay = (to: "level" | "plumb" | "joined") => ({
    text: { level: "Lay an edge level…", plumb: "Lay an edge plumb…", joined: "Join along an edge…" }[to],
    onSelect: () => put({ task: { what: "lay-edge", to } }),
  });
  const title = none ? "Pick a piece first: click it" : undefined;
  return (
    <div
      role="toolbar"
      aria-label="Pieces"
      className="figure flex h-8 shrink-0 items-center gap-0.5 overflow-x-auto border-b border-ink/40 bg-paper px-2 whitespace-nowrap [scrollbar-width:none]"
    >
      <Button look="quiet" className={TIGHT} disabled={none} title={title} onClick={() => move({ turn_by: 90 })}>
        Turn 90°
      </Button>
      <Button look="quiet" className={TIGHT} disabled={none} title={title} onClick={() => move({ flipped: true })}>
        Flip
      </Button>
      {!none && (
        <span className="ml-1 flex items-center gap-1.5">
          Size
          <NumberField
            hideLabel
            compact
            label="Size for true"
            value={plain(sizeOf(own) * 100, 1)}
            unit="%"
            className="w-[4.2rem]"
            onCommit={(text) =>
              edit({ kind: "move_pieces", finish: finish.key, pick: rule, size: /%/.test(text) ? text : `${text}%` })
            }
          />
        </span>
      )}
      <Menu
        text="Edges"
        look="quiet"
        className={TIGHT}
        title="Turn a piece by one of its edges: click the edge on the model"
        items={[
          lay("level"),
          lay("plumb"),
          lay("joined"),
          ...(flattened
            ? [
                {
                  text: "Straighten a border…",
                  hint: "Click it: it becomes a straight line; again lets it be",
                  onSelect: () => put({ task: { what: "straighten" as const, finish: finish.key } }),
                },
              ]
            : []),
          ...(flattened && !none
            ? [
                {
                  text: "Straighten the strip in hand",
                  hint: "Its two long borders become parallel lines",
                  onSelect: () => run({ kind: "straighten", finish: finish.key, strips: rule }),
                },
              ]
            : []),
        ]}
      />
      <Menu
        text="Arrange"
        look="quiet"
        className={TIGHT}
        title={none ? "All pieces" : "The pieces in hand"}
        items={[
          { text: "Set apart", onSelect: () => arrange("apart") },
          { text: "Pack", hint: "Close together by their shapes, as they stand", onSelect: () => arrange("packed") },
          { text: "Pack, turned end for end", onSelect: () => arrange("packed", "half") },
          { text: "Pack, turned any quarter", onSelect: () => arrange("packed", "quarter") },
          { text: "Stack those of one shape", onSelect: () => arrange("stacked") },
          {
            text: "Split the picked faces off",
            hint: "Pick by faces; they become a piece of their own",
            onSelect: () => arrange("split"),
          },
          {
            text: "Avoid an area…",
            hint: "Draw a box round a knot; pieces move by the least that clears it",
            onSelect: () => put({ task: { what: "avoid", finish: finish.key } }),
          },
          ...(flat.avoid.length
            ? [
                { text: "Keep clear of what is marked", onSelect: () => avoid() },
                { text: "Forget what is marked", onSelect: () => avoid(true) },
              ]
            : []),
        ]}
      />
      <Button
        look="quiet"
        className={TIGHT}
        title="A picture of the pieces to paint on elsewhere, and the painted one back"
        onClick={() => setOut("paint")}
      >
        Paint…
      </Button>
      <Button
        look="quiet"
        className={TIGHT}
        title="All pieces as a pattern in true mm, as they lie or nested on boards"
        onClick={() => setOut("cut")}
      >
        Cut out…
      </Button>
      <Button
        look="quiet"
        className={TIGHT}
        title="Brings all pieces into view"
        onClick={() => {
          const box = boxOf(flat.pieces);
          if (box) frame(box, finish.key);
        }}
      >
        All
      </Button>
      <PaintDialog project={project} finish={finish} flat={flat} open={out === "paint"} onClose={() => setOut(null)} />
      <CutDialog project={project} finish={finish} open={out === "cut"} onClose={() => setOut(null)} />
    </div>
  );
}

/** How long pieces lie for their true length, by their area. */
function sizeOf(own: FlatPiece[]): number {
  const m2 = own.reduce((sum, piece) => sum + piece.area_m2, 0);
  return Math.sqrt(own.reduce((sum, piece) => sum + piece.size ** 2 * piece.area_m2, 0) / Math.max(m2, 1e-12));
}

const TIGHT = "h-6! px-1!";

/** What the pieces in hand, or all of them, come to. */
export function FlatTold({ finish, flat, picked, pick }: Omit<Props, "project"> & { pick: Pick }) {
  const own = picked.size ? piecesIn(flat, picked) : flat.pieces;
  const m2 = own.reduce((sum, piece) => sum + piece.area_m2, 0);
  return (
    <output
      data-testid="flat-told"
      className="figure pointer-events-none absolute bottom-2.5 left-2.5 flex max-w-[calc(100%-20px)] flex-wrap gap-x-2.5 border border-rule bg-paper/95 px-2.5 py-1 whitespace-nowrap"
    >
      <span>
        {finish.key} ·{" "}
        {own.length === 0
          ? "bare faces in hand"
          : `${counted(own.length, "piece")}${picked.size ? " in hand" : ""} · ${area(m2)} · ${ratio(sizeOf(own))} of true`}
      </span>
      {flat.bareFaces > 0 && (
        <button
          type="button"
          className="pointer-events-auto cursor-pointer underline decoration-dotted underline-offset-2"
          title="What is bare of the parts that this finish lies on; it stands aside, right of the pieces"
          onClick={() => {
            const box = drawnBox(flat, (piece) => piece >= flat.pieces.length);
            if (!box) return void put({ look: "bare" });
            frame(box, finish.key);
            void pick({ how: "replace", pick: { faces: asideOf(flat) } });
          }}
        >
          {counted(flat.bareFaces, "face")} bare, {area(flat.bareM2)}
        </button>
      )}
      {flat.touching.length > 0 && (
        <span className="text-wrong" title="Arrange ▾ Keep clear of what is marked moves them, where there is room">
          {counted(flat.touching.length, "piece")} on a marked area
        </span>
      )}
      {flat.overlapM2 > 0 && (
        <span
          className={`pointer-events-auto ${finish.tile ? "" : "text-wrong"}`}
          title={
            finish.tile
              ? "Hatched: pieces share the same place on the sheet, which does no harm where the material repeats"
              : "Hatched: the sheet shows once, and these places show it twice"
          }
        >
          {area(flat.overlapM2)} shared
        </span>
      )}
    </output>
  );
}
