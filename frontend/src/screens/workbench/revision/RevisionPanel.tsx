import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";

import { getJson } from "../../../api/client";
import { useEdits } from "../../../api/project";
import type { ItemFaces, Project, RevisionItem } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { area, counted, percent } from "../../../ui/numbers";
import { held } from "../../../model/geometry";
import { usePicking } from "../picking/usePicking";
import { put } from "../../../state";
import { usePick } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";

const FATES: { what: RevisionItem["what"]; title: string; text: string }[] = [
  {
    what: "doubtful",
    title: "Doubtful",
    text: "These may or may not be the faces they were. Accept, or pick them and lay what you want.",
  },
  { what: "new", title: "New", text: "Rules and neighbours in the same patch have taken what they could." },
  { what: "gone", title: "Gone", text: "The newer model has nothing in the place of these faces." },
  {
    what: "moved",
    title: "Moved",
    text: "They keep their finish; a finish that moved as a whole took its datum along.",
  },
  { what: "kept", title: "Kept", text: "They are where they were, with the same finish." },
];

/** What a newer model that took the place of another changed, and what is asked of the artist. */
export function RevisionPanel({ project }: { project: Project }) {
  const { data: items } = useQuery({
    queryKey: ["revision", project.id, project.revision],
    queryFn: () => getJson<RevisionItem[]>(`/projects/${project.id}/revision`),
    placeholderData: (last) => last,
  });
  const covered = items?.filter((item) => item.was) ?? [];
  const sum = (list: RevisionItem[]) => list.reduce((total, item) => total + item.area_m2, 0);
  const safe = sum(covered.filter((item) => item.what === "kept" || item.what === "moved"));
  const open = items?.filter((item) => item.open).length ?? 0;
  return (
    <section
      aria-label="Revision"
      className="flex min-h-0 flex-col overflow-auto border-l border-ink/70 bg-paper px-4 py-3"
    >
      <div className="flex items-start justify-between">
        <h2 className="heading">The newer model</h2>
        <button
          type="button"
          aria-label="Close the list"
          className="p-1 text-faint hover:text-ink"
          onClick={() => put({ revisionShown: false })}
        >
          <X size={17} />
        </button>
      </div>
      {items && (
        <>
          <p className="mb-3">
            <strong className="figure">{covered.length ? percent(safe / sum(covered)) : "All"}</strong> of the covered
            area keeps its finish without a question.{" "}
            <span className={open ? "text-wrong" : ""}>
              {open ? `${counted(open, "question")} left.` : "Nothing is left to ask."}
            </span>
          </p>
          {FATES.map((fate) => {
            const rows = items.map((item, number) => ({ item, number })).filter(({ item }) => item.what === fate.what);
            if (rows.length === 0) return null;
            return (
              <details key={fate.what} open={fate.what !== "kept"} className="mb-3 border-t border-rule pt-2">
                <summary className="heading cursor-pointer">
                  {fate.title}{" "}
                  <span className="figure font-normal text-faint">{area(sum(rows.map(({ item }) => item)))}</span>
                </summary>
                <p className="label mb-1">{fate.text}</p>
                <ul className="divide-y divide-rule">
                  {rows.map(({ item, number }) => (
                    <Row key={number} project={project} item={item} number={number} />
                  ))}
                </ul>
              </details>
            );
          })}
        </>
      )}
    </section>
  );
}

function Row({ project, item, number }: { project: Project; item: RevisionItem; number: number }) {
  const ask = usePicking(project.id);
  const { edit, run } = useEdits(project.id);
  const pick = usePick((s) => s.pick);
  const layOnPick = () => {
    attempt(async () => {
      const ids = Array.from({ length: project.model.faces }, (_, face) => face).filter((face) =>
        held(pick.mask, face),
      );
      await edit({ kind: "accept", finish: item.was!, faces: ids });
      await edit({ kind: "answer", item: number });
    });
  };
  const faces = () => getJson<ItemFaces>(`/projects/${project.id}/revision/${number}`);
  const named = (key: string | null) => {
    const finish = project.finishes.find((f) => f.key === key);
    return finish ? `${finish.key} ${finish.name}` : "bare";
  };
  const answered = (item.what === "doubtful" || item.asks) && !item.open;
  return (
    <li className={`grid grid-cols-[1fr_auto] items-center gap-x-2 py-1 ${answered ? "opacity-60" : ""}`}>
      <div className="min-w-0">
        <span className="block truncate font-medium">
          {item.part}
          {item.former && <span className="label font-normal"> once “{item.former}”</span>}
        </span>
        <span className="figure block text-faint">
          {counted(item.faces, "face")} · {area(item.area_m2)} ·{" "}
          {item.what === "new" ? named(item.finish) : named(item.was)}
          {item.what === "doubtful" && !answered && `, now ${named(item.finish)} · ${percent(item.confidence)} sure`}
          {item.what === "gone" &&
            item.asks &&
            !answered &&
            ". Is that right? Pick what has taken their place, and lay it there"}
          {answered && " · answered"}
        </span>
      </div>
      {item.what !== "gone" && (
        <Button onClick={() => void faces().then((held) => ask({ how: "replace", pick: held }))}>Show</Button>
      )}
      {item.open && (
        <span className="col-span-2 mt-1 flex flex-wrap gap-1.5">
          {item.what === "doubtful" && item.was && (
            <Button
              look="main"
              onClick={() => void faces().then((held) => run({ kind: "accept", finish: item.was!, faces: held.faces }))}
            >
              Lay {named(item.was)}
            </Button>
          )}
          {item.what === "gone" && pick.faces > 0 && pick.rule && (
            <Button look="main" title="Adds the faces picked now to what the finish is laid on" onClick={layOnPick}>
              Lay {named(item.was)} on the pick
            </Button>
          )}
          <Button
            title="Settles the question; undo asks it again"
            onClick={() => run({ kind: "answer", item: number })}
          >
            {item.what === "gone" ? "They are gone" : "Leave them as they are"}
          </Button>
        </span>
      )}
    </li>
  );
}
