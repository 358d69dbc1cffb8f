import { useEdits } from "../../../api/project";
import type { Finish, Project } from "../../../api/wire.gen";
import { panelOf, projectionOf } from "../../../projections/registry";
import { put } from "../../../state";
import { NOTHING, usePick } from "../../../state/pick";
import { attempt } from "../../../ui/attempt";
import { Button } from "../../../ui/Button";
import { Line } from "../../../ui/lines";
import { counted } from "../../../ui/numbers";
import { usePicking } from "../picking/usePicking";
import type { Changing } from "./changing";

interface Props {
  project: Project;
  finishes: Finish[];
  now: Changing["now"];
}

/** Which faces the finishes are laid on, and what can be laid on others like them. */
export function LaidOnLines({ project, finishes, now }: Props) {
  const only = finishes.length === 1 ? finishes[0]! : null;
  const others = project.finishes.filter((f) => !finishes.some((own) => own.key === f.key));
  const faces = finishes.reduce((n, f) => n + f.faces, 0);
  return (
    <>
      <p className="mb-2">
        <span className="first-letter:uppercase">{only ? only.pick_words : counted(faces, "face")}</span>
        {only && only.faces === 0 && (
          <span className="text-wrong">
            {" "}
            –{" "}
            {only.failed
              ? "none of it could be laid"
              : only.held
                ? "all of it covered by later rows"
                : "the model has none of these faces"}
          </span>
        )}
      </p>
      {only && <PickButtons project={project} finish={only} now={now} />}
      {others.length > 0 && (
        <Line label="Placed like">
          <select
            aria-label="Take the placement of another finish"
            className="h-7 w-full border border-rule bg-sheet px-1.5"
            value=""
            onChange={(event) => event.target.value && now({ kind: "place_like", like: event.target.value })}
          >
            <option value="">take over from…</option>
            {others.map((f) => (
              <option key={f.key} value={f.key}>
                {f.key} {f.name}
              </option>
            ))}
          </select>
        </Line>
      )}
    </>
  );
}

function PickButtons({ project, finish, now }: { project: Project; finish: Finish; now: Changing["now"] }) {
  const { edit } = useEdits(project.id);
  const pick = usePicking(project.id);
  const inHand = usePick((s) => s.pick);
  const choose = (key?: string) => put({ rows: key ? [key] : [], pick: NOTHING });
  const row = project.finishes.findIndex((f) => f.key === finish.key);
  const none = inHand.faces === 0;
  const laySame = () => {
    const { material, projection } = finish;
    const laid = edit({ kind: "lay", material, pick: inHand.rule, projection, like: finish.key });
    attempt(laid, (after) => choose(after.finishes.at(-1)?.key));
  };
  const through = () => {
    const carried = edit({ kind: "carry_through", finish: finish.key, pick: inHand.rule });
    attempt(carried, (after) => choose(after.finishes.at(-1)?.key));
  };
  const splitOff = () => {
    const projection = projectionOf(finish.projection.kind, project.model.view_origin_mm);
    const split = edit({ kind: "split", finish: finish.key, pick: inHand.rule, projection });
    attempt(split, (after) => choose(after.finishes[row + 1]?.key));
  };
  return (
    <>
      <div className="mb-1.5 flex flex-wrap gap-1.5">
        <Button onClick={() => void pick({ how: "replace", figure: { figure: "covered", finish: finish.key } })}>
          Pick these faces
        </Button>
        <Button
          disabled={none}
          title="The finish covers the faces picked now"
          onClick={() => now({ kind: "set_pick", pick: inHand.rule })}
        >
          Use the pick
        </Button>
      </div>
      <div className="mb-1.5 flex flex-wrap gap-1.5">
        <Button
          disabled={none}
          title="Lays this material on the picked faces, placed just as here, so that the pattern runs on"
          onClick={laySame}
        >
          Lay the same on the pick
        </Button>
        {!panelOf(finish.projection.kind).hasDatum && finish.projection.kind !== "camera" && (
          <Button
            disabled={none}
            title="Lays the picked faces of the other side from here through the body: courses meet at the edge"
            onClick={through}
          >
            Carry through to the pick
          </Button>
        )}
        <Button
          disabled={none}
          title="Gives the picked faces of this finish a projection of their own"
          onClick={splitOff}
        >
          Own projection
        </Button>
      </div>
    </>
  );
}
