/** The library of materials: what is asked of it, and its pages kept up to date. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";

import { getJson, sendForm, sendJson } from "../../api/client";
import type { LibraryMaterial, Marks, Material, MaterialChange, Reading } from "../../api/wire.gen";
import { useNotices } from "../../ui/notices";
import { sentenceOf } from "../../ui/attempt";

export function useLibraryEdits() {
  const queries = useQueryClient();
  const { tell, say } = useNotices();
  const again = useCallback(() => queries.invalidateQueries({ queryKey: ["library"] }), [queries]);
  /** Waits for the answer, then for the library as it is now; a refusal is told. */
  const told = useCallback(
    async (ask: Promise<LibraryMaterial | undefined>) => {
      try {
        const answer = await ask;
        await again();
        if (answer?.said?.length) say(answer.said.join(". "));
        return answer;
      } catch (error) {
        tell(sentenceOf(error));
        return undefined;
      }
    },
    [again, tell, say],
  );
  const path = (key: string, rest = "") => `/library/${key}${rest}`;
  return {
    bring: (files: Iterable<File>) => {
      const form = new FormData();
      for (const file of files) form.append("files", file, file.name);
      return told(sendForm<LibraryMaterial>("/library", form));
    },
    duplicate: (key: string) => told(sendJson<LibraryMaterial>("POST", path(key, "/duplicate"))),
    seamless: (key: string) => told(sendJson<LibraryMaterial>("POST", path(key, "/seamless"))),
    remove: (key: string) => told(sendJson<undefined>("DELETE", path(key))),
    calibrate: async (key: string, marks: Marks) => {
      await sendJson("POST", path(key, "/calibrate"), marks);
      await again();
    },
    change: async (key: string, what: MaterialChange) => {
      await sendJson("PATCH", path(key), what);
      await again();
    },
    told,
  };
}

/** What is read off a material's base color. */
export function useReading(material: Material) {
  const sha = material.images.base_color;
  const [width, height] = material.repeat_mm;
  return useQuery({
    queryKey: ["reading", sha, width / height],
    queryFn: () => getJson<Reading>(`/reading/${sha}?width=${width}&height=${height}`),
    enabled: sha !== undefined,
    staleTime: Infinity,
  });
}
