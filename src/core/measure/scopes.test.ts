import { describe, expect, it } from "vitest";
import { linearToBt709 } from "../color/bt709";
import { makePicture } from "../image/plane";
import { vectorPlot, waveform } from "./scopes";

describe("scopes", () => {
  it("an even field is one flat line at its own code", () => {
    const p = makePicture(64, 36);
    for (const c of [p.r, p.g, p.b]) c.fill(0.18);
    const { counts, width, height } = waveform(p, linearToBt709, 32, 100);
    const row = Math.floor((1 - linearToBt709(0.18)) * height);
    for (let x = 0; x < width; x++) expect(counts[row * width + x]).toBe((64 * 36) / 32);
    expect(counts.reduce((s, v) => s + v, 0)).toBe(64 * 36);
  });
  it("grey lies in the middle of the vector plot, the primaries of BT.709 at their own Cb and Cr", () => {
    const p = makePicture(4, 1);
    p.r.set([0.3, 1, 0, 0]);
    p.g.set([0.3, 0, 1, 0]);
    p.b.set([0.3, 0, 0, 1]);
    const { counts, width } = vectorPlot(p, (v) => v, 100);
    const at = (cb: number, cr: number) =>
      counts[(99 - Math.min(99, Math.floor((cr + 0.5) * 100))) * width + Math.min(99, Math.floor((cb + 0.5) * 100))];
    expect(at(0, 0)).toBe(1);
    // BT.709-6, items 3.2 and 3.3: Cr of red and Cb of blue are 0.5; the rest follows from the weights.
    expect(at(-0.2126 / 1.8556, 0.5)).toBe(1);
    expect(at(-0.7152 / 1.8556, -0.7152 / 1.5748)).toBe(1);
    expect(at(0.5, -0.0722 / 1.5748)).toBe(1);
  });
});
