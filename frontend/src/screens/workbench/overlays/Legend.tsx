import type { Project } from "../../../api/wire.gen";
import { lookOf } from "../../../looks/registry";
import { useLook } from "../../../state/look";

/** What the look in hand means, with its figures. */
export function Legend({ project }: { project: Project }) {
  const look = useLook((s) => s.look);
  const { Legend: Own } = lookOf(look);
  return Own ? <Own project={project} /> : null;
}
