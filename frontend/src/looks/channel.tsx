import type { Project } from "../api/wire.gen";
import { put } from "../state";
import { useDesk } from "../state/desk";
import { useLook } from "../state/look";
import { Choice } from "../ui/Choice";
import { CHANNELS } from "./channels";
import { inWords, useChannelSeams } from "./channelSeams";
import { Box } from "./legend";
import type { LookModule } from "./look";

function Legend({ project }: { project: Project }) {
  const shown = useLook((s) => s.channel);
  const rows = useDesk((s) => s.rows);
  const finish = rows.length === 1 ? project.finishes.find(({ key }) => key === rows[0]) : undefined;
  const { data: seams } = useChannelSeams(project, finish);
  return (
    <Box>
      <span className="label">channel</span>
      <Choice
        label="Channel"
        value={shown}
        onChange={(value) => put({ channel: value })}
        options={CHANNELS.map(({ channel: value, text }) => ({ value, text }))}
      />
      {finish && seams && (
        <span data-testid="channel-seams" className="w-0 min-w-full">
          {finish.key} {inWords(seams)}
        </span>
      )}
    </Box>
  );
}

/** One channel of the materials alone. */
export const channel: LookModule = {
  text: "Channel",
  hint: "One channel of the materials alone, to find where a seam comes from",
  key: "N",
  draws: "pattern",
  paint: { images: "channel", lit: false },
  brings: false,
  Legend,
};
