import { Box } from "./legend";
import { PLAIN_PAINT, type LookModule } from "./look";
import { sizeTone, toneOf, UNMEASURED } from "./tones";

const TICKS = [50, 70, 100, 140, 200];

/** How large the pattern shows, in per cent of its true size. */
function Legend() {
  const stops = Array.from({ length: 17 }, (_, k) => toneOf(2 ** (k / 8 - 1)));
  return (
    <Box>
      <span className="label">squeezed</span>
      <span>
        <span
          className="block h-3 w-64 border border-ink/40"
          style={{ background: `linear-gradient(90deg, ${stops.join(", ")})` }}
        />
        <span className="relative block h-4 w-64 text-[13.5px]">
          {TICKS.map((tick) => (
            <span
              key={tick}
              className="absolute -translate-x-1/2"
              style={{ left: `${(Math.log2(tick / 100) + 1) * 50}%` }}
            >
              {tick}
              {tick === 100 && " %"}
            </span>
          ))}
        </span>
      </span>
      <span className="label">stretched</span>
    </Box>
  );
}

const BARE = 1;

/** Where the pattern is squeezed or stretched. */
export const stretch: LookModule = {
  text: "Stretch",
  hint: "Where the pattern is squeezed or stretched",
  key: "S",
  draws: "tone",
  paint: PLAIN_PAINT,
  brings: false,
  tone: ({ low, high, kind }) => (kind === BARE ? UNMEASURED : sizeTone(low, high)),
  Legend,
};
