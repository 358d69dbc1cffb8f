import { useThree } from "@react-three/fiber";
import { useEffect, useState } from "react";

import { useNotices } from "../ui/notices";

const GONE =
  "The browser's graphics have stopped; the picture comes back with them, or when you load the page again. Your work is safe";

/**
 * How often the browser has lost its graphics and given them back.
 *
 * The renderer fetches images and corners anew by itself; whatever was drawn once and kept (the
 * surroundings' light, a shadow) is gone, and a picture drawn on demand stays empty until it is asked for.
 */
export function useRestored(): number {
  const { gl, invalidate } = useThree();
  const [times, setTimes] = useState(0);
  useEffect(() => {
    const canvas = gl.domElement;
    const gone = () => useNotices.getState().tell(GONE);
    const back = () => {
      useNotices.setState((notice) => (notice.text === GONE ? { text: null } : {}));
      setTimes((before) => before + 1);
      invalidate();
    };
    canvas.addEventListener("webglcontextlost", gone);
    canvas.addEventListener("webglcontextrestored", back);
    return () => {
      canvas.removeEventListener("webglcontextlost", gone);
      canvas.removeEventListener("webglcontextrestored", back);
    };
  }, [gl, invalidate]);
  return times;
}
