import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { MeshDepthMaterial } from "three";

import type { Project } from "../api/wire.gen";
import { drawnGeometry, sourceGeometry, type ModelArrays } from "../model/geometry";
import { lookOf } from "../looks/registry";
import { useFaceClicks } from "./useFaceClicks";
import type { FaceHit, HeldKeys } from "../model/corners";
import { useHover } from "./useHover";
import { useEye, type LaidCorners } from "../model/eye";
import { geometryOf, useLaying } from "../model/useLaying";
import { usePreview } from "../model/usePreview";
import { useSurfaces } from "../looks/useSurfaces";
import { useTones } from "../looks/useTones";
import { put } from "../state";
import { useLook } from "../state/look";
import { usePick } from "../state/pick";

interface Props {
  project: Project;
  model: ModelArrays;
  onFace: (hit: FaceHit | null, held: HeldKeys) => void;
}

/** Set back the more the flatter the sun meets a face, by as much as a soft edge reaches: no face shades itself. */
const SHADOW = new MeshDepthMaterial({ polygonOffset: true, polygonOffsetFactor: 3, polygonOffsetUnits: 4 });

/** The faces of the model in one draw a finish, and single sheets over them. */
export function Model({ project, model, onFace }: Props) {
  const { invalidate, gl } = useThree();
  const look = useLook((s) => s.look);
  const { draws } = lookOf(look);
  const square = useLook((s) => s.squareMm) ?? project.model.checker_mm;
  const geometry = useMemo(() => drawnGeometry(model), [model]);
  useEffect(() => () => geometry.dispose(), [geometry]);

  const hidden = usePick((s) => s.hidden.mask);
  const asItCame = useMemo(
    () => (draws === "source" ? sourceGeometry(model, project.model.sources.length, hidden) : null),
    [draws, model, project.model.sources.length, hidden],
  );
  useEffect(() => () => asItCame?.dispose(), [asItCame]);

  const laid = useLaying(project, model, geometry);
  const { groups: surfaces, beyond } = useSurfaces(project, laid, look, square);
  useEffect(() => {
    const laidOf = (key: string): LaidCorners | null => {
      const finish = laid?.finishes.get(key);
      const faces = laid?.drawn.get(key);
      if (!laid || !finish || !faces?.length) return null;
      return { finish, faces, sheet: geometryOf(laid, geometry, key).getAttribute("uv").array as Float32Array };
    };
    useEye.setState({ laidOf });
    return () => useEye.setState({ laidOf: null });
  }, [laid, geometry]);
  usePreview(project, model, geometry, laid);
  useTones(project, model, geometry, look);
  useFaceClicks(model, onFace);
  useHover(model);

  const shown = laid?.revision ?? null;
  useEffect(() => {
    invalidate();
    put({ shown });
  }, [shown, surfaces, invalidate]);
  // Shadows are drawn anew where other faces or other surfaces cast them: where a sheet lies changes none.
  const casting = surfaces.map((surface) => surface.uuid).join();
  useEffect(() => {
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [geometry, asItCame, laid?.drawn, casting, gl, invalidate]);

  return (
    <>
      <mesh
        key={draws === "tone" ? "toned" : "laid"}
        geometry={asItCame ?? geometry}
        material={surfaces}
        customDepthMaterial={SHADOW}
        castShadow
        receiveShadow
        visible={shown !== null}
        raycast={() => null}
      />
      {beyond && (
        <mesh geometry={geometry} material={beyond} receiveShadow raycast={() => null} visible={shown !== null} />
      )}
      {draws === "pattern" &&
        laid?.singles.map((single) => {
          const row = project.finishes.findIndex((finish) => finish.key === single.key);
          const surface = surfaces[row + 1];
          return (
            surface && (
              <mesh
                key={single.key}
                geometry={single.geometry}
                material={surface}
                receiveShadow
                renderOrder={1}
                raycast={() => null}
              />
            )
          );
        })}
    </>
  );
}
