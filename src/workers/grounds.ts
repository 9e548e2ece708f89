import { makePicture, type Picture } from "../core/image/plane";

export const GROUNDS = ["scene", "bright", "black", "white", "checker"] as const;
/** What the viewer puts behind the subject while judging. */
export type Ground = (typeof GROUNDS)[number];

/** A vermilion that neither skin, honey nor a screen's leftovers come near. Linear light. */
const BRIGHT = [0.9, 0.09, 0.02] as const;
const CHECK_LIGHT = 0.32;
const CHECK_DARK = 0.16;

/** A solid or checked ground. @param originX, originY full-frame pixel of the top left corner, so that checks stay in place */
export function makeGround(
  ground: Exclude<Ground, "scene">,
  width: number,
  height: number,
  reduce: number,
  originX: number,
  originY: number,
): Picture {
  const p = makePicture(width, height);
  if (ground === "bright") {
    p.r.fill(BRIGHT[0]);
    p.g.fill(BRIGHT[1]);
    p.b.fill(BRIGHT[2]);
  } else if (ground === "white") for (const c of [p.r, p.g, p.b]) c.fill(1);
  else if (ground === "checker") {
    const size = 24 / reduce;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const odd = (Math.floor((x + originX / reduce) / size) + Math.floor((y + originY / reduce) / size)) & 1;
        const v = odd ? CHECK_LIGHT : CHECK_DARK;
        for (const c of [p.r, p.g, p.b]) c[y * width + x] = v;
      }
  }
  return p;
}
