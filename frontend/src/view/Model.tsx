import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";

import type { Finish, Project } from "../api/types";
import { useWorkbench } from "../workbench/store";
import { drawnGeometry, sourceGeometry, type ModelArrays } from "./geometry";
import { isToned } from "./materials";
import { useFaceClicks, type FaceHit } from "./useFaceClicks";
import { useHover } from "./useHover";
import { useLaying } from "./useLaying";
import { usePreview } from "./usePreview";
import { useSurfaces } from "./useSurfaces";
import { useTones } from "./useTones";

interface Props {
  project: Project;
  model: ModelArrays;
  onFace: (hit: FaceHit | null, event: PointerEvent) => void;
}

const NONE = new Map<string, Finish>();

/** The faces of the model in one draw a finish, and single sheets over them. */
export function Model({ project, model, onFace }: Props) {
  const { invalidate, gl } = useThree();
  const look = useWorkbench((s) => s.look);
  const square = useWorkbench((s) => s.squareMm) ?? project.model.checker_mm;
  const setShown = useWorkbench((s) => s.setShown);
  const geometry = useMemo(() => drawnGeometry(model), [model]);
  useEffect(() => () => geometry.dispose(), [geometry]);

  const hidden = useWorkbench((s) => s.hidden.mask);
  const asItCame = useMemo(
    () => (look === "source" ? sourceGeometry(model, project.model.sources.length, hidden) : null),
    [look, model, project.model.sources.length, hidden],
  );
  useEffect(() => () => asItCame?.dispose(), [asItCame]);

  const laid = useLaying(project, model, geometry);
  const { groups: surfaces, beyond } = useSurfaces(project, laid?.finishes ?? NONE, look, square);
  usePreview(project, model, geometry, laid);
  useTones(project, model, geometry, look);
  useFaceClicks(model, onFace);
  useHover(model);

  const shown = laid?.revision ?? null;
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
    setShown(shown);
  }, [shown, surfaces, gl, invalidate, setShown]);

  const patterned = look === "finish" || look === "color" || look === "channel" || look === "checker";
  return (
    <>
      <mesh
        key={isToned(look) ? "toned" : "laid"}
        geometry={asItCame ?? geometry}
        material={surfaces}
        castShadow
        receiveShadow
        visible={shown !== null}
        raycast={() => null}
      />
      {beyond && <mesh geometry={geometry} material={beyond} receiveShadow raycast={() => null} visible={shown !== null} />}
      {patterned &&
        laid?.singles.map((single) => {
          const row = project.finishes.findIndex((finish) => finish.key === single.key);
          const surface = surfaces[row + 1];
          return (
            surface && (
              <mesh key={single.key} geometry={single.geometry} material={surface} receiveShadow renderOrder={1} raycast={() => null} />
            )
          );
        })}
    </>
  );
}
