import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { getJson, sendForm, sendJson } from "../../api/client";
import type { Created, ImportState, ModelReading } from "../../api/wire.gen";

const asQuery = (reading: ModelReading) => {
  const stated = Object.entries(reading).flatMap(([name, value]) => (value ? [[name, String(value)]] : []));
  return new URLSearchParams(stated).toString();
};

/** Sends files to be read aside, and follows how far that is. Whoever leaves stops it. */
export function useImport(files: File[], reading: ModelReading, toleranceMm?: string) {
  const [id, setId] = useState<number | null>(null);
  const [refused, setRefused] = useState<Error | null>(null);

  useEffect(() => {
    let left = false;
    let started: number | null = null;
    const stop = (number: number) => void sendJson("DELETE", `/imports/${number}`).catch(() => undefined);
    const form = new FormData();
    for (const file of files) form.append("files", file);
    if (toleranceMm) form.append("tolerance_mm", toleranceMm);
    setId(null);
    setRefused(null);
    sendForm<Created>("/imports", form).then(
      (answer) => {
        started = answer.id;
        if (left) stop(answer.id);
        else setId(answer.id);
      },
      (error: Error) => !left && setRefused(error),
    );
    return () => {
      left = true;
      if (started !== null) stop(started);
    };
  }, [files, toleranceMm]);

  const query = asQuery(reading);
  const state = useQuery({
    queryKey: ["import", id, query],
    queryFn: () => getJson<ImportState>(`/imports/${id}?${query}`),
    enabled: id !== null,
    refetchInterval: (q) => (q.state.data && q.state.data.state !== "working" ? false : 250),
    // Read in another unit, the last check stays until the new one is there; another file begins anew.
    placeholderData: (last, lastQuery) => (lastQuery?.queryKey[1] === id ? last : undefined),
    retry: false,
    gcTime: 0,
  });
  const failed = state.data?.state === "failed" ? new Error(state.data.error ?? undefined) : null;
  return { id, query, state: state.data, error: refused ?? failed ?? state.error };
}
