import { DropdownMenu } from "radix-ui";

import { put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { toggled, usePanes } from "../../../state/panes";
import { useScheduleView, type Filter } from "../../../state/scheduleView";
import { Button } from "../../../ui/Button";
import { DropDown } from "../../../ui/DropDown";
import { SearchField } from "../../../ui/SearchField";
import { Word, type WordOption } from "../../../ui/Word";
import { COLUMNS } from "./columns";

const FILTERS: WordOption<Filter>[] = [
  { value: "all", text: "all rows" },
  { value: "wrong", text: "what is wrong", hint: "Smeared, mirrored, or far from true to scale" },
  { value: "nowhere", text: "what covers nothing" },
  { value: "off", text: "what is off" },
];

/** Search, filter, grouping and columns of the schedule, and what is done with the rows that are chosen. */
export function ScheduleTools() {
  const { search, filter } = useScheduleView();
  const rows = useDesk((s) => s.rows);
  return (
    <div className="flex items-center gap-2.5">
      {rows.length > 1 && <span className="text-hand">{rows.length} rows together</span>}
      <span>
        Show <Word label="Rows shown" value={filter} onChange={(value) => put({ filter: value })} options={FILTERS} />
      </span>
      <SearchField label="Search the schedule" value={search} onChange={(search) => put({ search })} />
      <TableMenu />
    </div>
  );
}

/** Whether rows are grouped, and which columns are shown. */
function TableMenu() {
  const grouped = useScheduleView((s) => s.grouped);
  const away = usePanes((s) => s.columnsAway);
  return (
    <DropDown
      align="end"
      trigger={
        <DropdownMenu.Trigger asChild>
          <Button look="quiet" className="h-6! px-1.5!">
            Table <span aria-hidden>▾</span>
          </Button>
        </DropdownMenu.Trigger>
      }
    >
      <Item text="Group by material" on={grouped} onChange={() => put({ grouped: !grouped })} />
      <DropdownMenu.Separator className="my-1 border-t border-rule" />
      <DropdownMenu.Label className="label px-3">Columns</DropdownMenu.Label>
      {COLUMNS.filter(({ fixed }) => !fixed).map(({ id, head }) => (
        <Item
          key={id}
          text={head}
          on={!away.includes(id)}
          onChange={() => usePanes.setState({ columnsAway: toggled(away, id) })}
        />
      ))}
    </DropDown>
  );
}

function Item({ text, on, onChange }: { text: string; on: boolean; onChange: () => void }) {
  return (
    <DropdownMenu.CheckboxItem
      checked={on}
      onCheckedChange={onChange}
      // Stays open, so that several can be chosen.
      onSelect={(event) => event.preventDefault()}
      className="flex cursor-pointer gap-2 px-3 py-1 outline-none data-[highlighted]:bg-hand-wash"
    >
      <span aria-hidden className="w-3 text-hand">
        {on ? "✓" : ""}
      </span>
      {text}
    </DropdownMenu.CheckboxItem>
  );
}
