import { imageUrl } from "../api/client";
import type { Material } from "../api/wire.gen";

/** A small piece of a material. */
export function Swatch({ material, size = 22 }: { material?: Material; size?: number }) {
  const image = material?.images.base_color;
  return (
    <span
      aria-hidden
      className="block shrink-0 border border-ink/40 bg-shade bg-cover bg-center"
      style={{
        width: size,
        height: size,
        backgroundImage: image ? `url(${imageUrl(image, size > 64 ? 512 : 160)})` : undefined,
      }}
    />
  );
}
