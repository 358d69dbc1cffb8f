import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { getJson, getJsonQuietly, sendJson } from "../../api/client";
import type { Bakeable, BakeAsked, BakeState, Created } from "../../api/wire.gen";

const SETTLES_MS = 500;

/** The finishes that can be baked, and which of them need it. */
export function useBakeable(projectId: number, revision: number) {
  return useQuery({
    queryKey: ["bakeable", projectId, revision],
    queryFn: () => getJson<Bakeable[]>(`/projects/${projectId}/bakeable`),
  });
}

/**
 * Plans a bake as soon as what is asked has settled, and follows it: planned, and baked once it is begun. What is asked
 * otherwise meanwhile, and whoever leaves, stops it.
 */
export function useBake(projectId: number, asked: BakeAsked | null) {
  const [id, setId] = useState<number | null>(null);
  const [refused, setRefused] = useState<Error | null>(null);
  const [round, setRound] = useState(0);
  const wanted = asked && JSON.stringify(asked);

  useEffect(() => {
    setId(null);
    setRefused(null);
    if (!wanted) return;
    let left = false;
    let started: number | null = null;
    const stop = (number: number) => void sendJson("DELETE", `/bakes/${number}`).catch(() => undefined);
    const begin = window.setTimeout(() => {
      sendJson<Created>("POST", `/projects/${projectId}/bakes`, JSON.parse(wanted)).then(
        (answer) => {
          started = answer.id;
          if (left) stop(answer.id);
          else setId(answer.id);
        },
        (error: Error) => !left && setRefused(error),
      );
    }, SETTLES_MS);
    return () => {
      left = true;
      window.clearTimeout(begin);
      if (started !== null) stop(started);
    };
  }, [projectId, wanted, round]);

  const state = useQuery({
    queryKey: ["bake", id],
    queryFn: () => getJsonQuietly<BakeState>(`/bakes/${id}`),
    enabled: id !== null,
    refetchInterval: (query) => (query.state.data && query.state.data.state !== "working" ? false : 300),
    retry: false,
    gcTime: 0,
  });
  const begin = async () => {
    await sendJson<BakeState>("POST", `/bakes/${id}/begin`);
    await state.refetch();
  };
  const failed = state.data?.state === "failed" ? new Error(state.data.error ?? undefined) : null;
  return { id, state: state.data, error: refused ?? failed ?? state.error, begin, stop: () => setRound(round + 1) };
}
