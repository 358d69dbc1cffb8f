import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { getBytes } from "../api/client";
import { readPacket, type Packet } from "../api/packet";
import type { Project } from "../api/wire.gen";
import { lookOf } from "./registry";
import type { FaceTones } from "../state/desk";
import type { Look } from "../state/look";

/** What is measured of every face, where the look shows it. */
export function useFaceTones(project: Project, look: Look): FaceTones | null {
  const { data } = useQuery({
    queryKey: ["stretch", project.id, project.revision],
    queryFn: async (): Promise<Packet<unknown>> => readPacket(await getBytes(`/projects/${project.id}/looks/stretch`)),
    enabled: lookOf(look).tone !== undefined,
    placeholderData: (previous) => previous,
  });
  return useMemo(
    () => (data ? { low: data.floats("low"), high: data.floats("high"), kind: data.bytes("kind") } : null),
    [data],
  );
}
