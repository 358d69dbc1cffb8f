import type { LibraryMaterial, Material } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Confirm } from "../../ui/Confirm";
import { MaterialSelect } from "../../ui/MaterialSelect";
import { useLibraryEdits } from "./api";
import { Title } from "./Title";

const LINK = "inline-flex h-7 items-center border border-rule bg-sheet px-2.5 hover:border-ink";

interface Props {
  material: Material;
  /** The material of the library by the same key, where there is one. */
  own: LibraryMaterial | undefined;
  library: LibraryMaterial[];
  mine: boolean;
  /** Other projects that use it. */
  elsewhere: { name: string }[];
  /** Puts another material in its place on all uses; null where nothing uses it. */
  onSwap: ((to: string) => void) | null;
  onShow: (key: string) => void;
}

/** What can be done with a material as a whole. */
export function MaterialActions({ material, own, library, mine, elsewhere, onSwap, onShow }: Props) {
  const { duplicate, remove } = useLibraryEdits();
  return (
    <>
      <Title>Do</Title>
      <div className="flex flex-wrap gap-1.5 pb-4">
        {onSwap && (
          <MaterialSelect
            label="Put another material in its place"
            value=""
            materials={library.filter((m) => m.key !== material.key)}
            first={{ value: "", text: "Put another in its place, on all uses…" }}
            onChange={(to) => to && onSwap(to)}
          />
        )}
        {own && (
          <>
            <Button onClick={() => void duplicate(material.key).then((made) => made && onShow(made.key))}>
              Duplicate
            </Button>
            <a
              className={LINK}
              href={`/api/library/${material.key}/file`}
              title="Its images and a JSON, as one file"
              download
            >
              Save as a file
            </a>
            <a className={LINK} href={`/api/library/${material.key}/materialx`} download>
              MaterialX
            </a>
          </>
        )}
        {mine && (
          <Confirm
            title={`Delete ${material.name}?`}
            text={
              elsewhere.length
                ? `It leaves the library. ${elsewhere.map((p) => p.name).join(", ")} ${elsewhere.length === 1 ? "uses" : "use"} it and will keep it.`
                : "It leaves the library. No project uses it."
            }
            action="Delete it"
            onConfirm={() => void remove(material.key)}
          >
            <Button look="wrong">Delete</Button>
          </Confirm>
        )}
      </div>
    </>
  );
}
