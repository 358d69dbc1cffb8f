import type { DatumDrawing } from "../api/wire.gen";

/** Why some faces could not be laid, a paragraph each; lead: what stands before it. */
export function Troubles({ measured, lead = "" }: { measured?: DatumDrawing; lead?: string }) {
  return measured?.troubles?.map((trouble) => (
    <p key={trouble} className="mb-2 text-wrong first-letter:uppercase" role="alert">
      {lead}
      {trouble}.
    </p>
  ));
}
