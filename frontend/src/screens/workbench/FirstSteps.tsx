import { useState } from "react";

import { Button } from "../../ui/Button";

const SEEN = "pivrel.first-steps-seen";

/** The first three steps, once. */
export function FirstSteps() {
  const [open, setOpen] = useState(() => localStorage.getItem(SEEN) === null);
  if (!open) return null;
  const close = () => {
    localStorage.setItem(SEEN, "yes");
    setOpen(false);
  };
  return (
    <aside
      aria-label="First steps"
      className="absolute right-3 bottom-3 w-72 border border-ink bg-sheet px-4 py-3 shadow-lg"
    >
      <h2 className="heading">Three steps to a believable wall</h2>
      <ol className="mt-1.5 mb-3 list-decimal space-y-1.5 pl-5">
        <li>
          <strong>Pick.</strong> Click a surface of the model. Shift adds, Ctrl takes off.
        </li>
        <li>
          <strong>Lay.</strong> Choose a material on the right and press “Lay on the pick”.
        </li>
        <li>
          <strong>Adjust.</strong> Type the true repeat, turn by 90° with <em>T</em>, and check it with the checker
          look.
        </li>
      </ol>
      <Button look="main" onClick={close}>
        Got it
      </Button>
    </aside>
  );
}
