import { describe, expect, it } from "vitest";
import { makePlane } from "../image/plane";
import { shadedMarkers } from "./shaded-markers";

const [W, H] = [160, 90];

/** A pull with patches of 0.6 on nothing, and where the plate shows the screen in shade. */
function patches(...places: { x: number; y: number; width: number; height: number; shaded: boolean }[]) {
  const pull = makePlane(W, H);
  const shade = new Uint8Array(W * H);
  for (const p of places)
    for (let y = p.y; y < p.y + p.height; y++)
      for (let x = p.x; x < p.x + p.width; x++) {
        pull.data[y * W + x] = 0.6;
        if (p.shaded) shade[y * W + x] = 1;
      }
  return shadedMarkers(pull, () => shade, 0.05);
}
const marker = (x: number, y: number, width = 4, height = 4, shaded = true) => ({ x, y, width, height, shaded });

describe("markers of the screen's own colour", () => {
  it("are compact islands of the screen in shade", () => {
    expect(patches(marker(20, 20), marker(90, 30, 5, 4)).map(({ x, y, width, height }) => [x, y, width, height])).toEqual([
      [20, 20, 4, 4],
      [90, 30, 5, 4],
    ]);
  });
  it("are not what has a colour of its own, what is long as strands are, what is large, or what meets the border", () => {
    expect(patches(marker(20, 20, 4, 4, false), marker(40, 20, 12, 2), marker(60, 20, 30, 30), marker(0, 20))).toEqual([]);
  });
  it("stand alone: nothing of a subject lies within their own size", () => {
    expect(patches(marker(20, 20), marker(25, 20))).toEqual([]);
    expect(patches(marker(20, 20), marker(30, 20))).toHaveLength(2);
  });
});
