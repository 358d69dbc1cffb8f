import { AlertDialog } from "radix-ui";
import type { ReactNode } from "react";

import { Button } from "./Button";

interface Props {
  title: string;
  text: string;
  action: string;
  onConfirm: () => void;
  children: ReactNode;
}

/** Says what a destructive act will do before it does it. */
export function Confirm({ title, text, action, onConfirm, children }: Props) {
  return (
    <AlertDialog.Root>
      <AlertDialog.Trigger asChild>{children}</AlertDialog.Trigger>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <AlertDialog.Content className="fixed top-1/2 left-1/2 z-50 w-[26rem] -translate-x-1/2 -translate-y-1/2 border border-ink bg-paper p-5 shadow-xl">
          <AlertDialog.Title className="heading">{title}</AlertDialog.Title>
          <AlertDialog.Description className="mt-2 mb-4">{text}</AlertDialog.Description>
          <div className="flex justify-end gap-2">
            <AlertDialog.Cancel asChild>
              <Button>Keep it</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button look="wrong" onClick={onConfirm}>
                {action}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
