import { Button } from "../ui/Button";
import { useWorkbench, type Errand } from "./store";

const PLACES = { corner: "the corner", edge: "the edge", middle: "the face whose middle" };

function words(errand: NonNullable<Errand>): string {
  switch (errand.what) {
    case "fit-face":
      return "Click the face that the projection shall look at.";
    case "seam":
      return "Click the edge that the seam shall run along.";
    case "grain-edge":
      return "Click the edge that the grain shall run along.";
    case "run-across":
      return "Click beside an edge, on the side that stays; the other side runs on from it.";
    case "tape":
      return errand.from ? "Click where the tape ends." : "Click where the tape begins.";
    case "set-out": {
      const unit = errand.unit === "joint" ? "a joint" : "the middle of a unit";
      return `Click ${PLACES[errand.at]} that ${unit} shall fall on.`;
    }
  }
}

/** What the next click is for, where it is not for picking. */
export function ErrandBanner() {
  const { errand, set } = useWorkbench();
  if (!errand) return null;
  return (
    <div
      role="status"
      className="absolute top-28 left-1/2 z-10 flex -translate-x-1/2 items-center gap-3 border border-hand bg-hand-wash px-3 py-1.5 whitespace-nowrap shadow-md"
    >
      {words(errand)}
      <Button look="quiet" shortcut="Esc" onClick={() => set({ errand: null, tape: null })}>
        {errand.what === "tape" ? "Put it away" : "Leave it"}
      </Button>
    </div>
  );
}
