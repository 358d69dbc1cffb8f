interface Props {
  given: boolean;
  onMeasure: () => void;
  /** What stands there while nothing is given, and what takes back what is. */
  found?: string;
  again?: string;
}

/** Whether a size was measured off the faces; one that was given can be measured again. */
export function MeasuredMark({ given, onMeasure, found = "measured", again = "given; measure it" }: Props) {
  if (!given) return <span className="label ml-auto">{found}</span>;
  return (
    <button
      type="button"
      className="label ml-auto underline decoration-dotted underline-offset-2 hover:text-ink"
      onClick={onMeasure}
    >
      {again}
    </button>
  );
}
