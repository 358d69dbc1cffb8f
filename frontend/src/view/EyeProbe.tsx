import { useFrame, useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { Matrix4 } from "three";

import { useEye } from "../model/eye";
import type { ModelArrays } from "../model/geometry";

/** Tells the drawing over the view where the eye stands, whenever that changes; counts the pictures on the canvas. */
export function EyeProbe({ model }: { model: ModelArrays }) {
  const { camera, size, gl, scene } = useThree();
  useEffect(() => {
    useEye.setState({ bvh: model.bvh, model });
    return () => useEye.setState({ bvh: null, model: null });
  }, [model]);
  useEffect(() => {
    const picture = () => {
      // Drawn anew, since a browser need not keep the last picture once it is shown.
      gl.render(scene, camera);
      return shrunk(gl.domElement);
    };
    useEye.setState({ picture });
    return () => useEye.setState({ picture: null });
  }, [gl, scene, camera]);
  useFrame(() => {
    const { dataset } = gl.domElement;
    dataset.drawn = String(Number(dataset.drawn ?? 0) + 1);
    camera.updateMatrixWorld();
    const matrix = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    const before = useEye.getState();
    if (
      before.camera === camera &&
      before.width === size.width &&
      before.height === size.height &&
      before.matrix.equals(matrix)
    ) {
      return;
    }
    useEye.setState({ camera, matrix, width: size.width, height: size.height });
  });
  return null;
}

/** The middle of a canvas at 320 x 200, as JPEG in base64. */
function shrunk(from: HTMLCanvasElement): string {
  const small = document.createElement("canvas");
  [small.width, small.height] = [320, 200];
  const scale = Math.max(small.width / from.width, small.height / from.height);
  const [width, height] = [from.width * scale, from.height * scale];
  const context = small.getContext("2d")!;
  context.drawImage(from, (small.width - width) / 2, (small.height - height) / 2, width, height);
  return small.toDataURL("image/jpeg", 0.85).split(",")[1]!;
}
