import { ChevronDown, ChevronRight, ChevronUp, X } from "lucide-react";

import { useEdits } from "../../../../api/project";
import type { Coat, Finish, Project } from "../../../../api/wire.gen";
import { isCrowded } from "../../../../coats/coated";
import { MASK_PANELS, type MaskKind } from "../../../../coats/maskKinds";
import { put } from "../../../../state";
import { useDesk } from "../../../../state/desk";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { Menu } from "../../../../ui/Menu";
import { Swatch } from "../../../../ui/Swatch";
import { mostImages } from "../../../../view/graphicsCard";
import { CoatLines } from "./CoatLines";
import { KeptCoatsMenu } from "./KeptCoatsMenu";
import { useCoats, type Coats } from "./useCoats";

interface Props {
  project: Project;
  finish: Finish;
}

/** What a new coat is for, and what is said of where it begins. */
const STARTS: [MaskKind | "all over", string, string][] = [
  ["fade", "A stain that fades out", MASK_PANELS.fade.hint],
  ["seams", "The same over open seams", "Turned, and by a laying that has no seams: it hides them"],
  ["edges", "Along edges", MASK_PANELS.edges.hint],
  ["facing", "Where it faces up", MASK_PANELS.facing.hint],
  ["band", "In a band of heights", MASK_PANELS.band.hint],
  ["noise", "In patches", MASK_PANELS.noise.hint],
  ["strokes", "With a brush", MASK_PANELS.strokes.hint],
  ["all over", "All over", "Scratches over rust, a varnish, a wash of color"],
];

/** The coats of a finish, first to last, and the one that is open. */
export function CoatsLines({ project, finish }: Props) {
  const { edit } = useEdits(project.id);
  const coats = useCoats(project, finish);
  const open = useDesk((s) => (s.coat?.finish === finish.key ? s.coat.row : null));
  const show = (row: number | null) => put({ coat: row === null ? null : { finish: finish.key, row } });
  const others = project.finishes.filter((other) => other.key !== finish.key && other.coats.length > 0);
  const copy = (from: Finish) => attempt(coats.set([...finish.coats, ...from.coats]));
  return (
    <>
      {finish.coats.length === 0 && (
        <p className="mb-2 text-faint">Nothing lies over it yet: stains, repairs of seams, worn edges, dirt.</p>
      )}
      <ol className="mb-1.5">
        {finish.coats.map((coat, row) => (
          <li key={row} className="border-t border-rule/60 first:border-t-0">
            <Head
              project={project}
              coat={coat}
              row={row}
              all={finish.coats}
              open={open === row}
              coats={coats}
              onOpen={() => show(open === row ? null : row)}
            />
            {open === row && <CoatLines project={project} finish={finish} row={row} coats={coats} />}
          </li>
        ))}
      </ol>
      {isCrowded(finish, project.materials) && (
        <p className="mb-1.5 text-faint">
          This browser draws {mostImages()} images at once: the bumps and the gloss of the last coats are not shown
          here.
        </p>
      )}
      <div className="flex flex-wrap gap-1.5">
        <Menu
          text="Add a coat"
          title="Something that lies over this finish"
          items={STARTS.map(([start, text, hint]) => ({
            text,
            hint,
            onSelect: () =>
              attempt(edit({ kind: "add_coat", finish: finish.key, start }), () => show(finish.coats.length)),
          }))}
        />
        {others.length > 0 && (
          <Menu
            text="Take over"
            title="The coats of another finish, over those that lie here"
            items={others.map((other) => ({
              text: `${other.key} ${other.name}`,
              hint: other.coats.map((coat) => coat.name).join(", "),
              onSelect: () => copy(other),
            }))}
          />
        )}
        <KeptCoatsMenu project={project} finish={finish} coats={coats} />
      </div>
    </>
  );
}

interface HeadProps {
  project: Project;
  coat: Coat;
  row: number;
  all: Coat[];
  open: boolean;
  coats: Coats;
  onOpen: () => void;
}

/** One coat's line: shown or not, its name, where it stands. */
function Head({ project, coat, row, all, open, coats, onOpen }: HeadProps) {
  const move = (by: number) => {
    const list = [...all];
    const [own] = list.splice(row, 1);
    list.splice(row + by, 0, own!);
    attempt(coats.set(list), () => open && put({ coat: { finish: useDesk.getState().rows[0]!, row: row + by } }));
  };
  const material = coat.material ? project.materials[coat.material] : undefined;
  return (
    <div className="flex items-center gap-1.5 py-0.5">
      <input
        type="checkbox"
        className="accent-hand"
        aria-label={`Show the coat ${coat.name}`}
        checked={coat.on}
        onChange={(event) => attempt(coats.change(row, { on: event.target.checked }))}
      />
      {material ? (
        <Swatch material={material} size={20} />
      ) : (
        <span
          aria-hidden
          className="block size-5 shrink-0 border border-ink/40"
          style={{ background: coat.tint ?? "transparent" }}
        />
      )}
      <button
        type="button"
        aria-expanded={open}
        className={`flex min-w-0 flex-1 items-center gap-1 text-left hover:text-hand ${coat.on ? "" : "text-faint line-through"}`}
        onClick={onOpen}
      >
        {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
        <span className="truncate font-medium">{coat.name}</span>
      </button>
      <Button
        tight
        look="quiet"
        aria-label={`Move ${coat.name} down, under the one before`}
        title="Beneath the one before it"
        disabled={row === 0}
        onClick={() => move(-1)}
      >
        <ChevronUp size={14} aria-hidden />
      </Button>
      <Button
        tight
        look="quiet"
        aria-label={`Move ${coat.name} up, over the one after`}
        title="Over the one after it"
        disabled={row === all.length - 1}
        onClick={() => move(1)}
      >
        <ChevronDown size={14} aria-hidden />
      </Button>
      <Button
        tight
        look="quiet"
        aria-label={`Take ${coat.name} off`}
        title="Takes it off"
        onClick={() => attempt(coats.set(all.filter((_, at) => at !== row)), () => put({ coat: null }))}
      >
        <X size={14} aria-hidden />
      </Button>
    </div>
  );
}
