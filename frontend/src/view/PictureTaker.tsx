import { useThree } from "@react-three/fiber";
import { useEffect } from "react";

import { useEye } from "../model/eye";
import { largePicture } from "./largePicture";
import { FineDrawing } from "./picture";

/** Lets the page ask for a picture of the view, of any size. */
export function PictureTaker({ radius }: { radius: number }) {
  const { gl, scene, camera, size, invalidate } = useThree();
  useEffect(() => {
    useEye.setState({
      take: async (asked, told) => {
        const fine = asked.shaded ? new FineDrawing(gl, scene, camera, radius) : null;
        const restore = () => gl.render(scene, camera);
        try {
          return await largePicture({ gl, scene, camera, fine, page: size, restore }, asked, told);
        } finally {
          fine?.dispose();
          invalidate();
        }
      },
    });
    return () => useEye.setState({ take: null });
  }, [gl, scene, camera, size, radius, invalidate]);
  return null;
}
