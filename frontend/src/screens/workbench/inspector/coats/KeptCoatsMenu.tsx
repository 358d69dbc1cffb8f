import { X } from "lucide-react";
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { getJson, sendJson } from "../../../../api/client";
import type { CoatSet, Finish, KeptCoats, Project } from "../../../../api/wire.gen";
import { attempt } from "../../../../ui/attempt";
import { Button } from "../../../../ui/Button";
import { Flyout } from "../../../../ui/Flyout";
import { NameField } from "../../../../ui/NameField";
import type { Coats } from "./useCoats";

interface Props {
  project: Project;
  finish: Finish;
  coats: Coats;
}

const KEY = ["coat-sets"];

/** Coats kept under a name: laid over this finish, forgotten, or these kept. */
export function KeptCoatsMenu({ project, finish, coats }: Props) {
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: KEY, queryFn: () => getJson<CoatSet[]>("/coat-sets") });
  const path = `/projects/${project.id}/coats/${finish.key}`;
  const send = (to: string, name: string) =>
    attempt(sendJson<CoatSet[]>("POST", to, { name }).then((kept) => queries.setQueryData(KEY, kept)));
  const lay = async (name: string) => {
    const kept = await sendJson<KeptCoats>("POST", `${path}/kept`, { name });
    await coats.set([...finish.coats, ...kept.coats]);
  };
  return (
    <Flyout text="Kept ▾" label="Kept coats" title="Coats of your own, for any finish of any project" look="quiet">
      <div className="w-72">
        {data?.length === 0 && <p className="mb-2 text-faint">None is kept yet.</p>}
        <ul className="mb-2">
          {data?.map((kept) => (
            <li key={kept.name} className="flex items-center gap-1.5 py-0.5">
              <span className="min-w-0 flex-1" title={kept.coats.join(", ")}>
                <span className="block truncate font-medium">{kept.name}</span>
                <span className="label block truncate">{kept.coats.join(", ")}</span>
              </span>
              <Button onClick={() => attempt(lay(kept.name))} aria-label={`Lay ${kept.name} over this finish`}>
                Lay
              </Button>
              <Button
                tight
                look="quiet"
                aria-label={`Forget ${kept.name}`}
                title="Forgets it; finishes keep what they have"
                onClick={() => send("/coat-sets/forget", kept.name)}
              >
                <X size={14} aria-hidden />
              </Button>
            </li>
          ))}
        </ul>
        {finish.coats.length > 0 && (
          <NameField
            label={`Keep the coats of ${finish.name} as`}
            action="Keep"
            onName={(name) => send(`${path}/keep`, name)}
          />
        )}
      </div>
    </Flyout>
  );
}
