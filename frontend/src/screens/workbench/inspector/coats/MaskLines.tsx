import { X } from "lucide-react";
import type { ReactNode } from "react";

import type { LibraryMaterial, Mask, Material } from "../../../../api/wire.gen";
import { isSimple, MASK_PANELS, statedBy, type MaskKind } from "../../../../coats/maskKinds";
import { attempt } from "../../../../ui/attempt";
import { LOOKS } from "../../../../looks/registry";
import { put } from "../../../../state";
import { useLook } from "../../../../state/look";
import { Button } from "../../../../ui/Button";
import { Check } from "../../../../ui/lines";
import { Menu } from "../../../../ui/Menu";
import { Word } from "../../../../ui/Word";
import { MaskFields } from "./MaskFields";

interface Props {
  where: Mask | null;
  materials: (Material | LibraryMaterial)[];
  /** Puts a mask of a kind to them, as it begins on the faces of the finish. */
  add: (kind: MaskKind) => Promise<unknown>;
  set: (where: Mask | null) => Promise<unknown>;
  /** What is done with a brush, for masks that are drawn. */
  brush: ReactNode;
}

type Way = "every" | "any";

/** The masks that a coat's place is made of, and how they are put together. */
function listed(where: Mask | null): { way: Way; masks: Mask[] } {
  if (!where) return { way: "every", masks: [] };
  if ("every" in where) return { way: "every", masks: where.every };
  return "any" in where ? { way: "any", masks: where.any } : { way: "every", masks: [where] };
}

const putTogether = (way: Way, masks: Mask[]): Mask | null =>
  masks.length === 0 ? null : masks.length === 1 ? masks[0]! : ({ [way]: masks } as unknown as Mask);

/** Where a coat lies: one mask, or several together. */
export function MaskLines({ where, materials, add, set, brush }: Props) {
  const { way, masks } = listed(where);
  const change = (at: number, mask: Mask | null) => {
    const others = mask ? masks.map((old, k) => (k === at ? mask : old)) : masks.filter((_, k) => k !== at);
    return set(putTogether(way, others));
  };
  return (
    <div className="mb-1.5" role="group" aria-label="Where it lies">
      {masks.length === 0 && <p className="mb-1.5 text-faint">It lies all over.</p>}
      {masks.length > 1 && (
        <p className="mb-1">
          It lies where{" "}
          <Word
            label="Together"
            value={way}
            onChange={(next) => attempt(set(putTogether(next, masks)))}
            options={[
              { value: "every", text: "all of these hold", hint: "Their product" },
              { value: "any", text: "one of these holds", hint: "The largest of them" },
            ]}
          />
          :
        </p>
      )}
      {masks.map((mask, at) => (
        <OneMask key={at} mask={mask} materials={materials} set={(next) => change(at, next)} brush={brush} />
      ))}
      <div className="flex gap-1.5">
        <Menu
          text={masks.length ? "And where" : "Only where"}
          title="One more thing that says where the coat lies"
          items={(Object.keys(MASK_PANELS) as MaskKind[]).map((kind) => ({
            text: MASK_PANELS[kind].text,
            hint: MASK_PANELS[kind].hint,
            onSelect: () => attempt(add(kind)),
          }))}
        />
        <WhereButton />
      </div>
    </div>
  );
}

/** Shows in the view how much of the coat lies where, and the finish again. */
function WhereButton() {
  const look = useLook((s) => s.look);
  return (
    <Button
      look={look === "where" ? "main" : "plain"}
      aria-pressed={look === "where"}
      title={LOOKS.where.hint}
      shortcut={LOOKS.where.key}
      onClick={() => put({ look: look === "where" ? "finish" : "where" })}
    >
      Show where
    </Button>
  );
}

interface OneProps {
  mask: Mask;
  materials: Props["materials"];
  set: (mask: Mask | null) => Promise<unknown>;
  brush: ReactNode;
}

function OneMask({ mask, materials, set, brush }: OneProps) {
  const inverse = "not" in mask;
  const own = inverse ? mask.not : mask;
  const { kind, stated } = statedBy(own);
  const put = (next: Mask) => set(inverse ? { not: next } : next);
  return (
    <div className="mb-1.5 border-l-2 border-rule pl-2" data-testid={`mask-${kind}`}>
      <div className="mb-1 flex items-center gap-2">
        <span className="font-medium">{isSimple(kind) ? MASK_PANELS[kind].text : "Several together"}</span>
        <span className="ml-auto">
          <Check
            label="inverse"
            checked={inverse}
            hint="It lies where this does not hold"
            onChange={(on) => attempt(set(on ? { not: own } : own))}
          />
        </span>
        <Button
          tight
          look="quiet"
          aria-label="Take this mask off"
          title="Takes it off"
          onClick={() => attempt(set(null))}
        >
          <X size={14} aria-hidden />
        </Button>
      </div>
      {kind === "strokes" && brush}
      {isSimple(kind) && <MaskFields kind={kind} stated={stated} materials={materials} set={put} />}
    </div>
  );
}
