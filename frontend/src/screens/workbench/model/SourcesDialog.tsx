import { useQuery } from "@tanstack/react-query";

import { getJson, imageUrl } from "../../../api/client";
import { useEdits } from "../../../api/project";
import type { Project, SourceMaterial, SourceUse } from "../../../api/wire.gen";
import { Button } from "../../../ui/Button";
import { Dialog } from "../../../ui/Dialog";
import { area, counted, mm, percent } from "../../../ui/numbers";
import { usePicking } from "../picking/usePicking";
import { exactly } from "../../../ui/globs";
import { useDesk } from "../../../state/desk";
import { put } from "../../../state";
import { attempt } from "../../../ui/attempt";

/** The materials that the model brought: to look at, to pick by, and to take as materials of the project. */
export function SourcesDialog({ project }: { project: Project }) {
  const sourcesShown = useDesk((s) => s.sourcesShown);
  const { data: uses } = useQuery({
    queryKey: ["sources", project.id, project.model.mesh, project.cover_key],
    queryFn: () => getJson<SourceUse[]>(`/projects/${project.id}/sources`),
    enabled: sourcesShown,
  });
  const close = () => put({ sourcesShown: false });
  return (
    <Dialog title="What the model brought" open={sourcesShown} onClose={close} className="w-[46rem]" testid="sources">
      <p className="px-5 pt-2 text-faint">
        Bare faces show these and are handed over with them, untouched. Taken as a material, one can be laid like any
        other.
      </p>
      {project.model.sources.length === 0 && <p className="px-5 py-4">The model came without materials.</p>}
      <ul className="min-h-0 divide-y divide-rule overflow-y-auto px-5">
        {project.model.sources.map((source, number) => (
          <Row key={number} project={project} source={source} number={number} use={uses?.[number]} onDone={close} />
        ))}
      </ul>
    </Dialog>
  );
}

const CHANNEL_WORDS: Record<string, string> = {
  base_color: "color",
  metallic_roughness: "roughness and metal",
  emissive: "glow",
};

interface RowProps {
  project: Project;
  source: SourceMaterial;
  number: number;
  use?: SourceUse;
  onDone: () => void;
}

function Row({ project, source, number, use, onDone }: RowProps) {
  const ask = usePicking(project.id);
  const { edit } = useEdits(project.id);
  const images = Object.keys(source.textures).map((channel) => CHANNEL_WORDS[channel] ?? channel);
  const take = () => {
    attempt(async () => {
      const before = new Set(Object.keys(project.materials));
      const after = await edit({ kind: "take_source", source: number });
      const added = Object.keys(after.materials).find((key) => !before.has(key));
      if (added) put({ material: added });
      onDone();
    });
  };
  return (
    <li className="grid grid-cols-[3rem_1fr_auto] items-center gap-3 py-2" data-testid="source">
      <SourceSwatch source={source} />
      <div className="min-w-0">
        <span className="block truncate font-medium">{source.name}</span>
        <span className="figure block text-faint">
          {images.length ? images.join(", ") : "a plain color"}
          {use && ` · ${counted(use.faces, "face")} · ${area(use.area_m2)}`}
          {use && use.bare_m2 < use.area_m2 - 5e-5 && ` (${area(use.bare_m2)} of it bare)`}
        </span>
        {use?.repeat_mm && (
          <span className="figure block text-faint">
            lies at about {mm(use.repeat_mm[0])} × {mm(use.repeat_mm[1])} mm, true of {percent(use.true_share ?? 0)} of
            it
          </span>
        )}
      </div>
      <span className="flex gap-1.5">
        <Button
          disabled={!use?.faces}
          title="Picks every face that came with it"
          onClick={() => {
            void ask({ how: "replace", pick: { sources: [exactly(source.name)] } });
            onDone();
          }}
        >
          Pick its faces
        </Button>
        <Button
          look="main"
          title="Makes a material of the project of it; its size is estimated from the model’s coordinates"
          onClick={take}
        >
          Take as a material
        </Button>
      </span>
    </li>
  );
}

function SourceSwatch({ source }: { source: SourceMaterial }) {
  const image = source.textures.base_color?.image;
  const [r, g, b] = source.rgba;
  return (
    <span
      aria-hidden
      className="block size-11 border border-ink/40 bg-cover bg-center"
      style={{
        backgroundColor: `color(srgb-linear ${r} ${g} ${b})`,
        backgroundImage: image ? `url(${imageUrl(image, 160)})` : undefined,
      }}
    />
  );
}
