import type { Options, Projection } from "../api/wire.gen";
import type { Kind, LinesProps } from "./panel";
import { panelOf } from "./registry";

interface Props extends Omit<LinesProps<Kind>, "set" | "projection"> {
  projection: Projection;
  onChange: (options: Options) => Promise<unknown>;
}

/** The options of the projection in hand. */
export function ProjectionLines({ projection, onChange, ...rest }: Props) {
  const { Lines } = panelOf(projection.kind);
  return <Lines {...rest} projection={projection} set={(options) => onChange({ kind: projection.kind, ...options })} />;
}
