import { useQuery } from "@tanstack/react-query";

import { getJson } from "../api/client";
import type { ChannelSeams, Finish, Project } from "../api/wire.gen";
import { CHANNELS } from "./channels";

/** Less of an edge than this is not told. */
const LEAST_M = 0.005;

/** Across which edges the channels of a finish do not run on. */
export function useChannelSeams(project: Project, finish: Finish | undefined) {
  return useQuery({
    queryKey: ["channel-seams", project.id, finish?.key, project.revision],
    queryFn: () => getJson<ChannelSeams>(`/projects/${project.id}/looks/channels/${finish!.key}`),
    enabled: finish !== undefined && finish.faces > 0,
    placeholderData: (last, query) => (query?.queryKey[2] === finish?.key ? last : undefined),
  });
}

/** The same in words: what runs on, and what does not and over how long. */
export function inWords({ edges_m, broken_m }: ChannelSeams): string {
  const asked = CHANNELS.filter(({ channel }) => broken_m[channel] !== undefined);
  if (edges_m < LEAST_M || !asked.length) return "no edges within it";
  const length = (channel: (typeof asked)[number]["channel"]) => broken_m[channel] ?? 0;
  const on = asked.filter(({ channel }) => length(channel) < LEAST_M).map(({ text }) => text.toLowerCase());
  const off = asked
    .filter(({ channel }) => length(channel) >= LEAST_M)
    .map(({ channel, text }) => `${text.toLowerCase()} ${length(channel).toFixed(2)} m`);
  if (!off.length) return `runs on across its ${edges_m.toFixed(2)} m of edges in every channel`;
  const breaks = `breaks: ${off.join(", ")}`;
  return on.length ? `runs on: ${on.join(", ")}; ${breaks}` : `${breaks} of ${edges_m.toFixed(2)} m`;
}
