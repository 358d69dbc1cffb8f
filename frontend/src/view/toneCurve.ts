/** How light becomes the picture's colors: Khronos' PBR Neutral, which leaves base colors as they are. */

import { Color, NeutralToneMapping } from "three";

/** What a model stands before; `--color-table` of the page. */
export const TABLE = new Color("#b6b6b4");

/** What every view of materials asks of its renderer. */
export const RENDERER = { antialias: true, toneMapping: NeutralToneMapping, toneMappingExposure: 1 } as const;
