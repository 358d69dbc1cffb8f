/** Pictures of the view, or of every kept view, as files. */

import { fileName, save } from "../../../ui/save";
import { zipSync } from "three/examples/jsm/libs/fflate.module.js";

import type { Project } from "../../../api/wire.gen";
import { texturesReady } from "../../../looks/textures";
import { goToSaved, useEye, type PictureAsked } from "../../../model/eye";
import { current, put } from "../../../state";
import { useLook } from "../../../state/look";

async function png(asked: PictureAsked, told: (share: number) => void): Promise<Blob> {
  const { take } = useEye.getState();
  if (!take) throw new Error("the view is not there yet");
  const canvas = await take(asked, told);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error(`this browser has no room for a picture of ${asked.width} x ${asked.height}`);
  return blob;
}

export async function saveThisView(project: Project, asked: PictureAsked, told: (share: number) => void) {
  save(await png(asked, told), `${project.name}.png`);
}

/** The next frame; a page that is given none goes on by the clock. */
const frame = () =>
  new Promise<void>((resolve) => {
    requestAnimationFrame(() => resolve());
    window.setTimeout(resolve, 250);
  });

/** Waits until the view has gone where it was sent, with all its images. */
async function arrived(before: unknown) {
  for (let tries = 0; tries < 600; tries++) {
    await frame();
    if (useEye.getState().camera !== before && texturesReady()) break;
  }
  await frame();
}

/** Every kept view in one ZIP; the eye goes back to where it was. */
export async function saveKeptViews(project: Project, asked: PictureAsked, told: (share: number) => void) {
  const { views } = project;
  const { going, clip, light } = current();
  const files: Record<string, Uint8Array> = {};
  try {
    for (const [number, view] of views.entries()) {
      const before = useEye.getState().camera;
      goToSaved(view, project.model.view_origin_mm);
      await arrived(before);
      const blob = await png(asked, (share) => told((number + share) / views.length));
      files[`${fileName(view.name)}.png`] = new Uint8Array(await blob.arrayBuffer());
    }
  } finally {
    put({ clip, light });
    useLook.setState({ going: { ...going } });
  }
  // PNG is packed already.
  const zip = zipSync(files, { level: 0 });
  save(new Blob([zip], { type: "application/zip" }), `${project.name}, kept views.zip`);
}
