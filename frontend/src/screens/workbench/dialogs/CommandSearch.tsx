import { Command as Search } from "cmdk";
import { useNavigate } from "react-router";

import { useEdits } from "../../../api/project";
import { shownKey, type Command, type WorkbenchContext } from "../../../commands/command";
import { everyCommand, recentCommands, remember, type SearchContext } from "../../../commands/every";
import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { Key } from "../../../ui/Button";

/** Every command by its words: what it is called, its key, and why it cannot be used now. */
export function CommandSearch({ context }: { context: WorkbenchContext }) {
  const open = useDesk((s) => s.dialog === "search");
  if (!open) return null;
  return <Opened context={context} />;
}

function Opened({ context }: { context: WorkbenchContext }) {
  const { run: step } = useEdits(context.project.id);
  const navigate = useNavigate();
  const whole: SearchContext = {
    ...context,
    step,
    go: (screen) => void navigate(`/projects/${context.project.id}/${screen}`),
  };
  const commands = everyCommand(context);
  const recent = recentCommands().flatMap((id) => commands.find((command) => command.id === id) ?? []);
  const rest = commands.filter((command) => !recent.includes(command));
  const item = (command: Command<SearchContext>) => (
    <Item
      key={command.id}
      command={command}
      hindrance={command.hindrance?.(whole) ?? null}
      onRun={() => {
        remember(command.id);
        put({ dialog: null });
        command.run(whole);
      }}
    />
  );
  return (
    <Search.Dialog
      open
      onOpenChange={(open) => !open && put({ dialog: null })}
      label="Find a command"
      loop
      overlayClassName="fixed inset-0 z-40 bg-ink/25"
      contentClassName="fixed top-[12vh] left-1/2 z-50 w-[36rem] max-w-[94vw] -translate-x-1/2 border border-ink bg-paper shadow-xl"
    >
      <Search.Input
        placeholder="What do you want to do?"
        className="h-11 w-full border-b border-rule bg-sheet px-4 text-[15px] outline-none placeholder:text-faint"
      />
      <Search.List className="max-h-[55vh] overflow-auto py-1.5" data-testid="commands">
        <Search.Empty className="px-4 py-3 text-faint">No command has these words.</Search.Empty>
        {recent.length > 0 && (
          <Search.Group heading={<Heading>The last ones</Heading>}>{recent.map(item)}</Search.Group>
        )}
        <Search.Group heading={<Heading>All</Heading>}>{rest.map(item)}</Search.Group>
      </Search.List>
    </Search.Dialog>
  );
}

function Heading({ children }: { children: string }) {
  return <span className="label block px-4 pt-1.5">{children}</span>;
}

interface ItemProps {
  command: Command<SearchContext>;
  hindrance: string | null;
  onRun: () => void;
}

function Item({ command, hindrance, onRun }: ItemProps) {
  return (
    <Search.Item
      value={`${command.name} ${command.id}`}
      onSelect={() => hindrance === null && onRun()}
      aria-disabled={hindrance !== null}
      className="flex cursor-pointer items-baseline gap-2 px-4 py-1 data-[selected=true]:bg-hand-wash"
    >
      <span className={hindrance === null ? "" : "text-faint"}>{command.name}</span>
      {hindrance !== null && <span className="label">not now: {hindrance}</span>}
      {command.key && (
        <span className="ml-auto">
          <Key>{shownKey(command.key)}</Key>
        </span>
      )}
    </Search.Item>
  );
}
