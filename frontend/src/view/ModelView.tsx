import { Canvas } from "@react-three/fiber";
import { useMemo } from "react";
import { BufferGeometry } from "three";

import type { Project } from "../api/wire.gen";
import { SplitLine } from "./SplitLine";
import { CameraRig } from "./CameraRig";
import { Coarsely } from "./Coarsely";
import { Cut } from "./Cut";
import { RENDERER, TABLE } from "./toneCurve";
import { drawsFinely } from "./graphicsCard";
import { Drawing } from "./Drawing";
import { PictureTaker } from "./PictureTaker";
import { EyeProbe } from "./EyeProbe";
import { usePanes } from "../state/panes";
import type { ModelArrays } from "../model/geometry";
import { Light } from "./Light";
import { Lines } from "./Lines";
import { Model } from "./Model";
import { Picked } from "./Picked";
import { Strokes } from "../looks/Strokes";
import { TrialShots } from "./TrialShots";
import type { FaceHit, HeldKeys } from "../model/corners";

interface Props {
  project: Project;
  model: ModelArrays;
  framed: number[];
  onFace: (hit: FaceHit | null, held: HeldKeys) => void;
}

/** The model, lit, with the pattern of its finishes; a click on it names the face. */
export function ModelView({ project, model, framed, onFace }: Props) {
  const sphere = useMemo(() => {
    const geometry = new BufferGeometry().setAttribute("position", model.position);
    geometry.computeBoundingSphere();
    return geometry.boundingSphere!;
  }, [model]);
  const antialias = drawsFinely(usePanes((s) => s.quality));
  return (
    <Canvas
      // What smooths edges is settled with a canvas.
      key={String(antialias)}
      frameloop="demand"
      shadows="percentage"
      dpr={[0.25, 2]}
      gl={{ ...RENDERER, antialias }}
      scene={{ background: TABLE }}
    >
      <Light model={model} sphere={sphere} />
      <Model project={project} model={model} onFace={onFace} />
      <Lines project={project} model={model} />
      <Cut project={project} />
      <Strokes project={project} />
      <Picked model={model} />
      <Coarsely />
      <CameraRig model={model} framed={framed} />
      <EyeProbe model={model} />
      <SplitLine />
      <PictureTaker radius={sphere.radius} />
      <Drawing radius={sphere.radius} />
      <TrialShots project={project} model={model} />
    </Canvas>
  );
}
