import type { ListedBy, Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { usePartsView } from "../../../state/partsView";
import { SearchField } from "../../../ui/SearchField";
import { Word, type WordOption } from "../../../ui/Word";

interface Offered extends WordOption<ListedBy> {
  there: (project: Project) => boolean;
}

const BY: Offered[] = [
  { value: "part", text: "parts", there: () => true },
  { value: "element", text: "element types", there: (p) => p.model.elements },
  { value: "storey", text: "storeys", there: (p) => p.model.storeys },
  { value: "source", text: "the file’s materials", there: (p) => p.model.sources.length > 0 },
];

/** What the list of parts goes by, and a search in it. */
export function PartsTools({ project }: { project: Project }) {
  const { partsSearch, by } = usePartsView();
  return (
    <div className="flex items-center gap-2.5">
      <span>
        List{" "}
        <Word
          label="Listed by"
          value={by}
          onChange={(value) => put({ by: value })}
          options={BY.filter(({ there }) => there(project))}
        />
      </span>
      <SearchField label="Search the parts" value={partsSearch} onChange={(partsSearch) => put({ partsSearch })} />
    </div>
  );
}
