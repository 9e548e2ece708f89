import type { Size } from "../core/image/plane";

/** Longer side of the reduced frame on which small pictures are drawn and figures under a moving hand and of brackets are measured, px. */
const SMALL = 480;

/** Reduction to about that size, the same for all of them, so that they share their steps. @param full size of the full frame, px */
export const smallReduce = ({ width, height }: Size): number => Math.max(1, Math.ceil(Math.max(width, height) / SMALL));
