/** Whether a size was measured off the faces; one that was given can be measured again. */
export function MeasuredMark({ given, onMeasure }: { given: boolean; onMeasure: () => void }) {
  if (!given) return <span className="label ml-auto">measured</span>;
  return (
    <button
      type="button"
      className="label ml-auto underline decoration-dotted underline-offset-2 hover:text-ink"
      onClick={onMeasure}
    >
      given; measure it
    </button>
  );
}
