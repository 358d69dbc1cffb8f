/** What the server says for the looks that draw lines, with the figures of their legends. */

import { useQuery } from "@tanstack/react-query";

import { getBytes } from "../api/client";
import { readPacket } from "../api/packet";
import type { Project, SeamsHeader, StrokesHeader } from "../api/wire.gen";
import { useLook } from "../state/look";

export interface StrokeData extends Partial<SeamsHeader>, Partial<StrokesHeader> {
  lines: Float32Array;
  /** Where the joints of both sides run on, though the images differ. */
  joints?: Float32Array;
}

export function useStrokes(project: Project, which: "seams" | "grain" | null) {
  const spacing = useLook((s) => s.spacingMm);
  return useQuery({
    queryKey: ["strokes", project.id, project.revision, which, which === "grain" ? spacing : null],
    queryFn: async (): Promise<StrokeData> => {
      const more = which === "grain" && spacing ? `?spacing=${spacing}` : "";
      const packet = readPacket<SeamsHeader & StrokesHeader>(
        await getBytes(`/projects/${project.id}/looks/${which}${more}`),
      );
      const joints = which === "seams" ? packet.floats("joints") : undefined;
      return { ...packet.header, lines: packet.floats("lines"), joints };
    },
    enabled: which !== null,
    placeholderData: (previous, query) => (query?.queryKey[3] === which ? previous : undefined),
  });
}
