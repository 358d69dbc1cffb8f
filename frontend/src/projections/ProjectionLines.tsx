import type { Finish, Options } from "../api/wire.gen";
import { useUnderHand } from "../state/hand";
import type { Kind, LinesProps } from "./panel";
import { panelOf } from "./registry";

interface Props extends Omit<LinesProps<Kind>, "set" | "projection" | "finish"> {
  finish: Finish;
  onChange: (options: Options) => Promise<unknown>;
}

/** The options of the projection in hand. */
export function ProjectionLines({ finish, onChange, ...rest }: Props) {
  const { projection } = useUnderHand([finish], "projection")[0]!;
  const { Lines } = panelOf(projection.kind);
  return (
    <Lines
      {...rest}
      finish={finish}
      projection={projection}
      set={(options) => onChange({ kind: projection.kind, ...options })}
    />
  );
}
