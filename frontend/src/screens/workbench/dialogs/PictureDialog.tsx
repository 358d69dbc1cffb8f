import { useState } from "react";

import { useEye } from "../../../model/eye";
import { current, put } from "../../../state";
import { useDesk } from "../../../state/desk";
import { attempt } from "../../../ui/attempt";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { Dialog } from "../../../ui/Dialog";
import { Check, Line } from "../../../ui/lines";
import { Progress } from "../../../ui/Progress";
import { counted } from "../../../ui/numbers";
import type { Project } from "../../../api/wire.gen";
import { drawsFinely } from "../../../view/graphicsCard";
import { saveKeptViews, saveThisView } from "./savePictures";

/** The longest side of a picture, in pixels. */
const MOST = 8192;

const SIZES = [
  { value: "view", text: "As seen" },
  { value: "1920x1080", text: "1920 × 1080" },
  { value: "3840x2160", text: "3840 × 2160" },
  { value: "7680x4320", text: "7680 × 4320" },
  { value: "own", text: "Own" },
];

/** Saves a picture of the view, or of all kept views at once. */
export function PictureDialog({ project }: { project: Project }) {
  const open = useDesk((s) => s.dialog === "picture");
  return (
    <Dialog
      title="Save a picture"
      open={open}
      onClose={() => put({ dialog: null })}
      className="w-[34rem]"
      testid="picture"
    >
      {open && <Asking project={project} />}
    </Dialog>
  );
}

function Asking({ project }: { project: Project }) {
  const eye = useEye.getState();
  const [of, setOf] = useState<"view" | "kept">("view");
  const [size, setSize] = useState("3840x2160");
  const [own, setOwn] = useState(["4096", "2731"]);
  const [drawing, setDrawing] = useState(true);
  const [transparent, setTransparent] = useState(false);
  const [shaded, setShaded] = useState(() => drawsFinely(current().quality));
  const [share, setShare] = useState<number | null>(null);
  const seen = [Math.round(eye.width), Math.round(eye.height)];
  const typed = size === "own" ? own : size === "view" ? seen : size.split("x");
  const [width, height] = typed.map(Number) as [number, number];
  const right = [width, height].every((side) => Number.isInteger(side) && side >= 16 && side <= MOST);
  const save = () => {
    setShare(0);
    const asked = { width, height, drawing, shaded, transparent };
    const doing = of === "view" ? saveThisView(project, asked, setShare) : saveKeptViews(project, asked, setShare);
    attempt(
      doing.finally(() => setShare(null)),
      () => put({ dialog: null }),
    );
  };
  return (
    <div className="px-5 py-4">
      <Line label="Of">
        <Choice
          label="Pictures of"
          value={of}
          onChange={setOf}
          options={[
            { value: "view", text: "This view" },
            ...(project.views.length
              ? [{ value: "kept" as const, text: `All ${counted(project.views.length, "kept view")}` }]
              : []),
          ]}
        />
      </Line>
      <Line label="Pixels">
        <Choice label="Size in pixels" tight value={size} onChange={setSize} options={SIZES} />
      </Line>
      {size === "own" && (
        <Line label="">
          {["Width", "Height"].map((label, k) => (
            <input
              key={label}
              aria-label={`${label} in pixels`}
              inputMode="numeric"
              className="figure h-7 w-24 border border-rule bg-sheet px-1.5 text-right"
              value={own[k]}
              onChange={(event) => setOwn(own.map((side, at) => (at === k ? event.target.value.trim() : side)))}
            />
          ))}
        </Line>
      )}
      <Line label="Drawing">
        <Check label="edges, strokes and the pick too" checked={drawing} onChange={setDrawing} />
      </Line>
      <Line label="Shade">
        <Check label="contact shadows, where surfaces come close" checked={shaded} onChange={setShaded} />
      </Line>
      <Line label="Behind it">
        <Choice
          label="Behind the model"
          value={transparent ? "nothing" : "grey"}
          onChange={(value) => setTransparent(value === "nothing")}
          options={[
            { value: "grey", text: "Neutral grey" },
            { value: "nothing", text: "Nothing (transparent)" },
          ]}
        />
      </Line>
      <div className="mt-4 flex items-center gap-3">
        <Button look="main" className="h-9!" disabled={!right || share !== null} onClick={save}>
          {share === null ? `Save ${width || "?"} × ${height || "?"} as PNG` : "Drawing…"}
        </Button>
        {!right && <span className="text-wrong">Each side is from 16 to {MOST} pixels.</span>}
        {share !== null && (
          <div className="flex-1">
            <Progress doing="drawing" share={share} />
          </div>
        )}
      </div>
    </div>
  );
}
