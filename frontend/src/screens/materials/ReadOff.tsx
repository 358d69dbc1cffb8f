import type { Material } from "../../api/wire.gen";
import { plain } from "../../ui/numbers";
import { useReading } from "./api";

interface ReadOffProps {
  material: Material;
  onGrain: ((text: string) => Promise<unknown>) | null;
  onMend: () => void;
  mendable: boolean;
}

/** What the image says by itself: its grain, and whether it wraps without a line. */
export function ReadOff({ material, onGrain, onMend, mendable }: ReadOffProps) {
  const { data } = useReading(material);
  if (!data) return <p className="label mb-3">Reading the image…</p>;
  const shows = [
    data.wrap_along >= data.shows_from ? "left and right" : null,
    data.wrap_up >= data.shows_from ? "bottom and top" : null,
  ].filter(Boolean);
  const sure = Math.round(data.confidence * 100);
  const differs =
    data.grain_deg !== null &&
    (material.grain_deg == null || Math.abs(((data.grain_deg - material.grain_deg + 90) % 180) - 90) > 2);
  return (
    <div className="mb-3" data-testid="read-off">
      <p className="label">
        {data.grain_deg === null
          ? "Read off the image: no grain."
          : differs
            ? `Read off the image: grain at ${plain(data.grain_deg, 1)}°, ${sure} % sure.`
            : `Read off the image: the same, ${sure} % sure.`}{" "}
        {differs && onGrain && (
          <button
            type="button"
            className="underline decoration-dotted underline-offset-2"
            onClick={() => void onGrain(String(data.grain_deg!.toFixed(1)))}
          >
            Take it
          </button>
        )}
      </p>
      <p className={`label ${shows.length ? "text-wrong!" : ""}`}>
        {shows.length
          ? `The borders ${shows.join(", and ")} show where it repeats.`
          : "Its borders meet without a line."}{" "}
        {shows.length > 0 && mendable && (
          <button
            type="button"
            className="underline decoration-dotted underline-offset-2"
            onClick={onMend}
            title="Makes a copy whose borders meet; the middle stays as it is"
          >
            Make a seamless copy
          </button>
        )}
      </p>
    </div>
  );
}
