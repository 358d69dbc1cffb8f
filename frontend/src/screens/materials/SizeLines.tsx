import { useState } from "react";

import type { LibraryMaterial, Material } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Check } from "../../ui/lines";
import { mm } from "../../ui/numbers";
import { NumberField } from "../../ui/NumberField";
import { Title } from "./Title";

interface Props {
  material: Material;
  /** The material of the library that this one of a project came from. */
  original: LibraryMaterial | undefined;
  /** Null where the size is not to be changed. */
  onSize: ((repeat_mm: [string | null, string | null], linked: boolean) => Promise<unknown>) | null;
  onCalibrate: () => void;
}

/** How large one repeat is, with what the library says of it. */
export function SizeLines({ material, original, onSize, onCalibrate }: Props) {
  const [linked, setLinked] = useState(true);
  const [width, height] = material.repeat_mm;
  const resized = original && (original.repeat_mm[0] !== width || original.repeat_mm[1] !== height);
  return (
    <>
      <Title>Real size of one repeat</Title>
      {onSize ? (
        <>
          <div className="mb-1.5 flex items-end gap-2">
            <NumberField
              label="Width"
              value={mm(width)}
              unit="mm"
              className="flex-1"
              onCommit={(text) => onSize([text, null], linked)}
            />
            <NumberField
              label="Height"
              value={mm(height)}
              unit="mm"
              className="flex-1"
              onCommit={(text) => onSize([null, text], linked)}
            />
          </div>
          <div className="mb-3 flex items-center justify-between">
            <Check
              label="as the image"
              checked={linked}
              onChange={setLinked}
              hint="Width and height keep the image’s proportions"
            />
            <Button title="Mark two places on the image whose true distance you know" onClick={onCalibrate}>
              Calibrate…
            </Button>
          </div>
        </>
      ) : (
        <p className="figure mb-3 text-[19px]">
          {mm(width)} × {mm(height)} mm
        </p>
      )}
      {material.estimated && (
        <p className="-mt-1.5 mb-3 text-wrong">
          This size is an estimate from the model’s coordinates. Type or calibrate it to confirm it.
        </p>
      )}
      {resized && (
        <p className="label -mt-1.5 mb-3">
          The library has it at {mm(original.repeat_mm[0])} × {mm(original.repeat_mm[1])} mm.
        </p>
      )}
    </>
  );
}
