import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import type { Project } from "../api/types";
import type { Look } from "../view/materials";
import { CutMenu } from "./CutMenu";
import { useWorkbench } from "./store";
import { ViewMenu } from "./ViewMenu";

const LOOKS: { value: Look; text: string; hint: string }[] = [
  { value: "source", text: "As it came", hint: "The materials and images that the model brought, whatever is laid on them (P)" },
  { value: "finish", text: "Finish", hint: "The materials as they are laid (F)" },
  { value: "color", text: "Color", hint: "The base color alone, without light (O)" },
  { value: "channel", text: "Channel", hint: "One channel of the materials alone, to find where a seam comes from (N)" },
  { value: "checker", text: "Checker", hint: "Squares of a stated size, to judge scale and turn (C)" },
  { value: "stretch", text: "Stretch", hint: "Where the pattern is squeezed or stretched (S)" },
  { value: "seams", text: "Seams", hint: "Edges across which the pattern does not run on (E)" },
  { value: "grain", text: "Grain", hint: "Strokes along the grain (G)" },
  { value: "bare", text: "Bare", hint: "Which faces have no finish, are smeared or mirrored (B)" },
];

/** What the view shows and from where. */
export function ViewBar({ project }: { project: Project }) {
  const { look, errand, set } = useWorkbench();
  return (
    <section
      aria-label="View"
      className="absolute bottom-2.5 left-2.5 flex max-w-[calc(100%-1.25rem)] flex-wrap items-center gap-x-3 gap-y-1.5 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <span className="label">Look</span>
      <Choice label="Look" value={look} onChange={(value) => set({ look: value })} options={LOOKS} />
      <ViewMenu project={project} />
      <CutMenu project={project} />
      <Button
        aria-pressed={errand?.what === "tape"}
        look={errand?.what === "tape" ? "main" : "plain"}
        title="Click two places: the length over the surface between them, and what of the pattern lies there (M)"
        onClick={() => set({ errand: errand?.what === "tape" ? null : { what: "tape", from: null }, tape: null })}
      >
        Tape
      </Button>
    </section>
  );
}
