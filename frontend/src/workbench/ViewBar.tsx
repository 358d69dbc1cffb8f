import { DropdownMenu } from "radix-ui";

import type { Project } from "../api/types";
import { Button, Key } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { area, plain } from "../ui/numbers";
import type { EyeView } from "../view/cameras";
import type { Look } from "../view/materials";
import { useWorkbench } from "./store";

const LOOKS: { value: Look; text: string; hint: string }[] = [
  { value: "finish", text: "Finish", hint: "The materials as they are laid (F)" },
  { value: "checker", text: "Checker", hint: "Squares of a stated size, to judge scale and turn (C)" },
  { value: "bare", text: "Bare", hint: "Shows which faces have no finish (B)" },
];

const VIEWS: { value: EyeView; text: string; key: string }[] = [
  { value: "around", text: "From around", key: "5" },
  { value: "front", text: "Front", key: "4" },
  { value: "right", text: "Right", key: "6" },
  { value: "back", text: "Back", key: "7" },
  { value: "left", text: "Left", key: "8" },
  { value: "top", text: "Top", key: "9" },
  { value: "below", text: "From below", key: "0" },
];

export const VIEW_KEYS = Object.fromEntries(VIEWS.map((view) => [view.key, view.value]));

/** Each step is twice or two and a half times the last: 1, 2, 5, 10, … */
export function otherSquare(mm: number, up: boolean): number {
  const power = 10 ** Math.floor(Math.log10(mm) + 1e-9);
  const lead = Math.round(mm / power);
  const next = up ? { 1: 2, 2: 5, 5: 10 }[lead] : { 1: 0.5, 2: 1, 5: 2 }[lead];
  return Math.min(Math.max((next ?? lead) * power, 0.1), 10_000);
}

/** What the view shows and from where. */
export function ViewBar({ project }: { project: Project }) {
  const { look, squareMm, set, goTo, going } = useWorkbench();
  const square = squareMm ?? project.model.checker_mm;
  return (
    <section
      aria-label="View"
      className="absolute bottom-2.5 left-2.5 flex items-center gap-3 border border-rule bg-paper/95 px-2.5 py-1.5"
    >
      <span className="label">Look</span>
      <Choice label="Look" value={look} onChange={(value) => set({ look: value })} options={LOOKS} />
      {look === "checker" && (
        <span className="figure flex items-center gap-1">
          squares of {plain(square)} mm
          <Button look="quiet" aria-label="Smaller squares" onClick={() => set({ squareMm: otherSquare(square, false) })}>
            −
          </Button>
          <Button look="quiet" aria-label="Larger squares" onClick={() => set({ squareMm: otherSquare(square, true) })}>
            +
          </Button>
        </span>
      )}
      {look === "bare" && (
        <span className="figure flex items-center gap-1.5">
          <span className="inline-block size-3.5 border border-ink/40 bg-[#d4512c]" />
          bare: {area(project.bare.area_m2)}
        </span>
      )}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <Button>View: {VIEWS.find((view) => view.value === going.view)?.text.toLowerCase()}</Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content side="top" align="start" sideOffset={4} className="z-40 border border-ink bg-paper py-1 shadow-lg">
            {VIEWS.map((view) => (
              <DropdownMenu.Item
                key={view.value}
                onSelect={() => goTo(view.value)}
                className="flex cursor-pointer justify-between gap-8 px-3 py-1 outline-none data-[highlighted]:bg-hand-wash"
              >
                {view.text} <Key>{view.key}</Key>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </section>
  );
}
