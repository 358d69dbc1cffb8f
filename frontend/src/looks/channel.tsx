import { put } from "../state";
import { useLook } from "../state/look";
import { Choice } from "../ui/Choice";
import { CHANNELS } from "./channels";
import { Box } from "./legend";
import type { LookModule } from "./look";

function Legend() {
  const shown = useLook((s) => s.channel);
  return (
    <Box>
      <span className="label">channel</span>
      <Choice
        label="Channel"
        value={shown}
        onChange={(value) => put({ channel: value })}
        options={CHANNELS.map(({ channel: value, text }) => ({ value, text }))}
      />
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
