import { useId, useState } from "react";

import { Button } from "./Button";

interface Props {
  label: string;
  action: string;
  onName: (name: string) => void;
}

/** Asks for a name, and does something with it. */
export function NameField({ label, action, onName }: Props) {
  const id = useId();
  const [name, setName] = useState("");
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim()) return;
        onName(name.trim());
        setName("");
      }}
    >
      <label htmlFor={id} className="label block">
        {label}
      </label>
      <div className="flex gap-1.5">
        <input
          id={id}
          value={name}
          maxLength={200}
          onChange={(event) => setName(event.target.value)}
          className="h-7 min-w-0 flex-1 border border-rule bg-sheet px-2 outline-none focus:border-hand"
        />
        <Button type="submit" disabled={!name.trim()}>
          {action}
        </Button>
      </div>
    </form>
  );
}
