/** Whether there is a graphics card, for what is drawn steps down by itself where there is none. */

import type { Quality } from "../state/panes";

/** The eye has to rest this many ms before the view is drawn as well as it can be. */
export const REST = 140;

/** Whether a context is drawn by the processor, by the name of what draws it. */
function inSoftware(context: WebGL2RenderingContext): boolean {
  const told = context.getExtension("WEBGL_debug_renderer_info");
  const name = String(context.getParameter(told ? told.UNMASKED_RENDERER_WEBGL : context.RENDERER));
  return /swiftshader|llvmpipe|software|basic render/i.test(name);
}

interface Card {
  software: boolean;
  images: number;
}

/** WebGL 2 promises that a shader can look up as many images. */
const PROMISED = 16;

let found: Card | undefined;

/** What draws in this browser; looked up once, before anything is drawn. */
function card(): Card {
  if (!found) {
    const context = document.createElement("canvas").getContext("webgl2");
    found = {
      software: context !== null && inSoftware(context),
      images: context ? Number(context.getParameter(context.MAX_TEXTURE_IMAGE_UNITS)) : PROMISED,
    };
    // A browser has room for a few contexts only.
    context?.getExtension("WEBGL_lose_context")?.loseContext();
  }
  return found;
}

/** Whether this browser draws without a graphics card. */
export const withoutCard = (): boolean => card().software;

/** How many images a shader can look up, beside the light's and its shadow's. */
export const mostImages = (): number => card().images - 2;

/** Whether a view of this quality has smooth edges and contact shadows. */
export const drawsFinely = (quality: Quality) => quality === "fine" || (quality === "by itself" && !withoutCard());
