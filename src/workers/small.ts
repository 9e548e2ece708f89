/** Width of the reduced frame on which small pictures are drawn and figures under a moving hand and of brackets are measured, px. */
const SMALL = 480;

/** Reduction to about that width, the same for all of them, so that they share their steps. @param width of the full frame */
export const smallReduce = (width: number): number => Math.max(1, Math.ceil(width / SMALL));
