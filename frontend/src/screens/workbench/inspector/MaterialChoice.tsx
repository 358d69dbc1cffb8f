import { RadioGroup } from "radix-ui";
import type { ReactNode } from "react";

import { useLibrary } from "../../../api/project";
import type { LibraryMaterial, Material, Project } from "../../../api/wire.gen";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { mm } from "../../../ui/numbers";
import { Swatch } from "../../../ui/Swatch";

/** The material that is laid next: its key, and what is known of it. */
export function useNextMaterial(project: Project): {
  key: string;
  material?: Material | LibraryMaterial;
  offered: (Material | LibraryMaterial)[];
} {
  const { data: library = [] } = useLibrary();
  const held = useDesk((s) => s.material);
  // What the project has of its own stands first; a library material that it uses may have another repeat there.
  const own = Object.values(project.materials).filter((m) => !library.some((l) => l.key === m.key));
  const offered = [...own, ...library];
  const key = offered.some((m) => m.key === held) ? held : (library[0]?.key ?? held);
  const material = project.materials[key] ?? library.find((m) => m.key === key);
  return { key, material, offered };
}

/** The name of the material that is laid next, and its repeat; children: what else is told of it. */
export function NextMaterial({ project, children }: { project: Project; children?: ReactNode }) {
  const { material } = useNextMaterial(project);
  return (
    <p className="mb-2.5">
      <span className="font-medium">{material?.name}</span>
      {material && (
        <span className="figure block text-faint">
          repeats every {mm(material.repeat_mm[0])} × {mm(material.repeat_mm[1])} mm
          {material.estimated && " (estimated)"}
          {children}
        </span>
      )}
    </p>
  );
}

/** The materials that can be laid, as small pieces of each. */
export function MaterialChoice({ project }: { project: Project }) {
  const { key, offered } = useNextMaterial(project);
  return (
    <RadioGroup.Root
      aria-label="Material"
      value={key}
      onValueChange={(material) => put({ material })}
      className="mb-2 grid grid-cols-[repeat(auto-fill,52px)] gap-1.5"
    >
      {offered.map((m) => (
        <RadioGroup.Item
          key={m.key}
          value={m.key}
          aria-label={m.name}
          title={m.name}
          className="border-2 border-transparent hover:border-rule data-[state=checked]:border-hand"
        >
          <Swatch material={m} size={48} />
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
