import { useState, type MouseEvent } from "react";

import { imageUrl } from "../../api/client";
import type { Channel, Marks, Material, Pair } from "../../api/wire.gen";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { mm } from "../../ui/numbers";

interface Props {
  material: Material;
  channel: Channel;
  /** How many repeats are shown each way. */
  times: 1 | 2;
  /** Sizes the material by two marks. */
  onCalibrate: (marks: Marks) => Promise<unknown>;
  calibrating: boolean;
  onDone: () => void;
}

type MarksWay = NonNullable<Marks["way"]>;

const WAYS = [
  { value: "free" as const, text: "between", hint: "The straight distance between the marks" },
  { value: "along" as const, text: "along", hint: "Only across the image, as for the width of a board" },
  { value: "up" as const, text: "up", hint: "Only up the image, as for a number of courses" },
];

/** The image with its real size as a drawing dimensions it, and the marks that size it. */
export function OneRepeat({ material, channel, times, onCalibrate, calibrating, onDone }: Props) {
  const [marks, setMarks] = useState<Pair[]>([]);
  const [way, setWay] = useState<MarksWay>("free");
  const [width, height] = material.repeat_mm;
  const image = material.images[channel] ?? material.images.base_color;
  // As large as the window has room for, with the height's dimension beside it.
  const across = `min(100%, calc((100vh - 15.5rem) * ${width / height} + 2.5rem))`;
  const mark = (event: MouseEvent<HTMLDivElement>) => {
    if (!calibrating) return;
    const box = event.currentTarget.getBoundingClientRect();
    const place: Pair = [(event.clientX - box.left) / box.width, 1 - (event.clientY - box.top) / box.height];
    setMarks((before) => (before.length === 2 ? [place] : [...before, place]));
  };
  const [a, b] = marks;
  const now =
    a && b
      ? {
          free: Math.hypot((b[0] - a[0]) * width, (b[1] - a[1]) * height),
          along: Math.abs(b[0] - a[0]) * width,
          up: Math.abs(b[1] - a[1]) * height,
        }[way]
      : 0;
  const commit = async (distance: string) => {
    await onCalibrate({ a: a!, b: b!, distance, way });
    setMarks([]);
    onDone();
  };
  return (
    <figure className="min-w-0">
      {calibrating && (
        <div
          className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1.5 border border-hand bg-hand-wash px-3 py-2"
          role="status"
        >
          {marks.length < 2 ? (
            <span>
              {marks.length === 0
                ? "Click the first of two places whose true distance you know."
                : "Click the second place."}
            </span>
          ) : (
            <>
              <Choice label="Distance measured" value={way} onChange={setWay} options={WAYS} />
              <span className="label">is truly</span>
              <NumberField
                key={way}
                label="True distance"
                hideLabel
                value={mm(now)}
                unit="mm"
                className="w-28"
                onCommit={commit}
              />
              <span className="label">Enter keeps it</span>
            </>
          )}
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => {
              setMarks([]);
              onDone();
            }}
          >
            Leave it
          </Button>
        </div>
      )}
      <div style={{ width: across }}>
        <div className="ml-10">
          <Dimension text={`${mm(width * times)} mm`} />
        </div>
        <div className="flex">
          <div className="flex w-10 shrink-0 items-center justify-center border-y border-ink/60">
            <span className="figure -rotate-90 whitespace-nowrap">{mm(height * times)} mm</span>
          </div>
          <div
            data-testid="repeat"
            className={`relative min-w-0 flex-1 border border-ink ${calibrating ? "cursor-crosshair" : ""}`}
            style={{ aspectRatio: width / height }}
            onClick={mark}
          >
            {times === 1 && image && (
              <img
                src={imageUrl(image, 1024)}
                alt={`${material.name}, one repeat`}
                className="size-full"
                draggable={false}
              />
            )}
            {times === 2 && image && (
              <>
                {/* Holds the place that the background then fills. */}
                <img
                  src={imageUrl(image, 1024)}
                  alt={`${material.name}, two by two repeats`}
                  className="invisible size-full"
                />
                <div
                  className="absolute inset-0"
                  style={{ backgroundImage: `url(${imageUrl(image, 1024)})`, backgroundSize: "50% 50%" }}
                />
              </>
            )}
            {material.grain_deg != null && channel === "base_color" && times === 1 && (
              <GrainMark degrees={material.grain_deg} />
            )}
            {calibrating && <MarkLines marks={marks} />}
          </div>
        </div>
      </div>
      <figcaption className="label mt-2 ml-10">
        {times === 1
          ? "One repeat, seen from outside; its lower left corner is the origin."
          : "Two by two repeats: look for lines where they meet, and for a spot that catches the eye again and again."}
      </figcaption>
    </figure>
  );
}

function MarkLines({ marks }: { marks: Pair[] }) {
  const at = ([u, v]: Pair) => ({ x: `${u * 100}%`, y: `${(1 - v) * 100}%` });
  const [a, b] = marks;
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
      {a && b && (
        <>
          <line x1={at(a).x} y1={at(a).y} x2={at(b).x} y2={at(b).y} className="stroke-sheet" strokeWidth={5} />
          <line x1={at(a).x} y1={at(a).y} x2={at(b).x} y2={at(b).y} className="stroke-hand" strokeWidth={2} />
        </>
      )}
      {marks.map((mark, k) => (
        <circle key={k} cx={at(mark).x} cy={at(mark).y} r={5} className="fill-sheet stroke-hand" strokeWidth={2} />
      ))}
    </svg>
  );
}

/** A dimension line as a drawing has it: ticks at both ends, the size over it. */
function Dimension({ text }: { text: string }) {
  return (
    <div className="relative mb-1 h-6 border-x border-ink/60">
      <div className="absolute inset-x-0 bottom-1 border-t border-ink/60" />
      <span className="figure absolute inset-x-0 bottom-1.5 text-center">{text}</span>
    </div>
  );
}

function GrainMark({ degrees }: { degrees: number }) {
  return (
    <span className="absolute right-3 bottom-3 flex items-center gap-2 border border-ink/60 bg-paper/90 px-2 py-1">
      <svg width="34" height="34" viewBox="-17 -17 34 34" aria-hidden>
        <g transform={`rotate(${-degrees})`} stroke="var(--color-ink)" strokeWidth="1.5">
          <path d="M-15 0H15M-15 0l5 -3.5M-15 0l5 3.5M15 0l-5 -3.5M15 0l-5 3.5" fill="none" />
        </g>
      </svg>
      <span className="label text-ink">grain</span>
    </span>
  );
}
