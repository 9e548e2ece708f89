import { createRequire } from "node:module";
import type { Mat } from "@techstark/opencv-js";

export type OpenCv = typeof import("@techstark/opencv-js");

/**
 * OpenCV 4.12 built for JavaScript: the general-purpose image library that our own image operations are checked against.
 * The module is handed over by a callback: it has a `then` of its own, so that awaiting it, as `import` does in the test runner, would never end.
 */
export function withOpenCv(use: (cv: OpenCv) => void): Promise<void> {
  const loading: OpenCv = createRequire(import.meta.url)("@techstark/opencv-js");
  return new Promise((resolve) => {
    const ready = () => {
      use(loading);
      resolve();
    };
    if (loading.Mat) ready();
    else Object.assign(loading, { onRuntimeInitialized: ready });
  });
}

/** Calls `work` with the plane as a float matrix (or bytes, for a mask); gives the result's numbers and frees both. */
export function withMat(cv: OpenCv, source: Float32Array | Uint8Array, width: number, height: number, work: (from: Mat, to: Mat) => void) {
  const from = cv.matFromArray(height, width, source instanceof Uint8Array ? cv.CV_8UC1 : cv.CV_32FC1, source as unknown as number[]);
  const to = new cv.Mat();
  try {
    work(from, to);
    return to.type() === cv.CV_8UC1
      ? Float32Array.from(to.data)
      : to.type() === cv.CV_32SC1
        ? Float32Array.from(to.data32S)
        : Float32Array.from(to.data32F);
  } finally {
    from.delete();
    to.delete();
  }
}
