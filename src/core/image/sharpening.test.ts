import { describe, expect, it } from "vitest";
import { sharpened } from "../../../tests/support/sharpened";
import { gaussianBlur } from "./blur";
import { random } from "./random";
import type { RawFrame } from "./raw-frame";
import { lumaCodes, withoutSharpening } from "./sharpening";

const [width, height] = [48, 32];
const n = width * height;
/** Luma of edges, lines and grain, in the middle of 12 bits so that nothing clips. */
function luma(): Uint16Array {
  const next = random(5);
  return Uint16Array.from({ length: n }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return Math.round(1800 + (x > 20 ? 500 : 0) + (y % 9 === 0 ? 300 : 0) + 60 * next());
  });
}
const frame = (planes: Uint16Array[], kind: "ycbcr" | "rgb" = "ycbcr"): RawFrame => ({
  width,
  height,
  layout: kind === "rgb" ? { kind, bits: 12, alpha: false } : { kind, subsampling: "444", bits: 12, alpha: false },
  planes,
});
const worst = (a: Uint16Array, b: Uint16Array) => Math.max(...a.map((v, i) => Math.abs(v - (b[i] as number))));

describe("a camera's sharpening, undone", () => {
  it.each([
    [0.5, 0.8],
    [1, 0.8],
    [1.5, 1.7],
  ])("gives back the luma of before, amount %f, σ %f px, and leaves chroma", (amount, radius) => {
    const chroma = new Uint16Array(n).fill(2048);
    const before = frame([luma(), chroma, chroma]);
    const sharp = sharpened(before, amount, radius);
    expect(worst(sharp.planes[0]!, before.planes[0]!)).toBeGreaterThan(60);
    const undone = withoutSharpening(sharp, { amount, radius });
    // Whole codes of what was sharpened, and of what comes back.
    expect(worst(undone.planes[0]!, before.planes[0]!)).toBeLessThanOrEqual(amount > 1 ? 4 : 2);
    expect(undone.planes[1]).toBe(chroma);
  });
  it("changes R′, G′ and B′ by what luma changes", () => {
    const next = random(9);
    const planes = [0, 1, 2].map(() => Uint16Array.from({ length: n }, () => Math.round(1500 + 900 * next())));
    const sharp = frame(planes, "rgb");
    const undone = withoutSharpening(sharp, { amount: 1, radius: 0.8 });
    const change = planes.map((p, k) => undone.planes[k]!.map((v, i) => v - p[i]! + 4096));
    expect(worst(change[0]!, change[1]!)).toBe(0);
    expect(worst(change[0]!, change[2]!)).toBe(0);
    // Sharpened again, luma is what it was.
    const y = lumaCodes(undone);
    const soft = gaussianBlur(y, width, height, 0.8);
    const again = y.map((v, i) => v + (v - soft[i]!));
    const was = lumaCodes(sharp);
    expect(Math.max(...again.map((v, i) => Math.abs(v - was[i]!)))).toBeLessThan(3);
  });
  it("keeps to the codes there are", () => {
    const next = random(2);
    const edge = Uint16Array.from({ length: n }, () => (next() > 0.5 ? 4095 : 0));
    const undone = withoutSharpening(frame([edge, edge, edge]), { amount: 3, radius: 2 });
    expect(Math.max(...undone.planes[0]!)).toBeLessThanOrEqual(4095);
  });
  it("leaves frames that need none as they are, and half floats", () => {
    const raw = frame([luma(), luma(), luma()]);
    expect(withoutSharpening(raw, { amount: 0, radius: 0.8 })).toBe(raw);
    const half: RawFrame = { ...raw, layout: { kind: "half", alpha: false } };
    expect(withoutSharpening(half, { amount: 1, radius: 0.8 })).toBe(half);
  });
});
