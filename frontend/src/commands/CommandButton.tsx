import { useSyncExternalStore, type ComponentProps } from "react";

import { follow } from "../state";
import { Button } from "../ui/Button";
import { shownKey, type Command } from "./command";

interface Props<Context> extends Omit<ComponentProps<typeof Button>, "shortcut"> {
  command: Command<Context>;
  context: Context;
  /** Whether the key stands beside the words; else it is named in the title alone. */
  keyShown?: boolean;
}

/** A button for a command: it can be pressed where the command can be used, and shows the command's key. */
export function CommandButton<Context>({
  command,
  context,
  keyShown = true,
  disabled,
  onClick,
  ...rest
}: Props<Context>) {
  const hindrance = useSyncExternalStore(follow, () => command.hindrance?.(context) ?? null);
  return (
    <Button
      disabled={disabled === true || hindrance !== null}
      onClick={(event) => {
        onClick?.(event);
        command.run(context);
      }}
      shortcut={keyShown && command.key ? shownKey(command.key) : undefined}
      {...rest}
    />
  );
}
