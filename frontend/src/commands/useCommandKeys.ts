import { useEffect, useRef } from "react";

import { keyNames, type Command } from "./command";

/** Where keys are typed or chosen, and are not meant for the model. */
const TYPING = "input:not([type=checkbox]), select, textarea, [role=menu], [role=dialog], [role=alertdialog]";

/** Keys carry out the commands of a screen; the first that can be used now is meant. */
export function useCommandKeys<Context>(commands: Command<Context>[], context: Context) {
  const latest = useRef(context);
  useEffect(() => {
    latest.current = context;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      // What an open menu or panel has taken for itself is not meant for the model.
      if (event.defaultPrevented || (event.target as HTMLElement).closest?.(TYPING)) return;
      const names = keyNames(event);
      const meant = commands.find(
        (command) => command.key && names.includes(command.key) && !command.hindrance?.(latest.current),
      );
      if (!meant) return;
      event.preventDefault();
      meant.run(latest.current);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [commands]);
}
