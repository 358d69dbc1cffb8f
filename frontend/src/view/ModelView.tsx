import { Canvas } from "@react-three/fiber";

import type { Project } from "../api/wire.gen";
import { SplitLine } from "./SplitLine";
import { CameraRig } from "./CameraRig";
import { Cut } from "./Cut";
import { TABLE } from "./environment";
import { EyeProbe } from "./EyeProbe";
import type { ModelArrays } from "../model/geometry";
import { Light } from "./Light";
import { Lines } from "./Lines";
import { Model } from "./Model";
import { Picked } from "./Picked";
import { Strokes } from "../looks/Strokes";
import { TrialShots } from "./TrialShots";
import type { FaceHit } from "../model/corners";

interface Props {
  project: Project;
  model: ModelArrays;
  onFace: (hit: FaceHit | null, event: PointerEvent) => void;
}

/** The model, lit, with the pattern of its finishes; a click on it names the face. */
export function ModelView({ project, model, onFace }: Props) {
  return (
    <Canvas frameloop="demand" shadows="percentage" dpr={[1, 2]} gl={{ antialias: true }} scene={{ background: TABLE }}>
      <Light model={model} />
      <Model project={project} model={model} onFace={onFace} />
      <Lines project={project} model={model} />
      <Cut project={project} />
      <Strokes project={project} />
      <Picked model={model} />
      <CameraRig model={model} />
      <EyeProbe model={model} />
      <SplitLine />
      <TrialShots project={project} model={model} />
    </Canvas>
  );
}
