import { describe, expect, it } from "vitest";
import { edgeColour } from "../edge/edge-colour";
import { makePicture, type Picture } from "../image/plane";
import { matteLevels } from "../matte/levels";
import { fitPlacement } from "../scene/fit";
import { over, premultiply, straightOverOpaque, unpremultiply } from "../scene/over";
import { limitSpill, neutralLimit } from "../spill/limit";
import { colourDifference, excessOf } from "./colour-difference";

const GREEN = { r: 0.045, g: 0.36, b: 0.075 };
const BLUE = { r: 0.03, g: 0.07, b: 0.42 };

/** One row of pixels. */
function row(pixels: readonly (readonly [number, number, number])[], alpha?: readonly number[]): Picture {
  const p = makePicture(pixels.length, 1);
  pixels.forEach(([r, g, b], i) => {
    p.r[i] = r;
    p.g[i] = g;
    p.b[i] = b;
  });
  return alpha ? { ...p, a: Float32Array.from(alpha) } : p;
}

describe("colour difference", () => {
  it.each([
    ["green", GREEN, "g"],
    ["blue", BLUE, "b"],
  ] as const)("returns α of every mixture of a %s screen with neutral subjects within 1e-5", (_, screen, primary) => {
    for (const weight of [0, 0.3, 0.5, 1])
      for (const f of [0, 0.02, 0.18, 0.5, 1, 2])
        for (let k = 0; k <= 20; k++) {
          const a = k / 20;
          const mixed = row([[a * f + (1 - a) * screen.r, a * f + (1 - a) * screen.g, a * f + (1 - a) * screen.b]]);
          expect(Math.abs(colourDifference(mixed, { screen, primary, weight }).data[0]! - a)).toBeLessThan(1e-5);
        }
  });
  it("is 0 on the screen itself, and 1 on what leans away from it", () => {
    const m = colourDifference(
      row([
        [GREEN.r, GREEN.g, GREEN.b],
        [0.6, 0.3, 0.2],
      ]),
      { screen: GREEN, primary: "g", weight: 0.5 },
    );
    expect([...m.data]).toEqual([0, 1]);
  });
  it("tells sage from screen better when the weight moves to the channel they differ in", () => {
    const sage = row([[0.2, 0.3, 0.17]]);
    const at = (weight: number) => colourDifference(sage, { screen: GREEN, primary: "g", weight }).data[0]!;
    expect(at(1)).not.toBeCloseTo(at(0), 2);
    expect(at(0.5)).toBeCloseTo(1 - excessOf({ r: 0.2, g: 0.3, b: 0.17 }, "g", 0.5) / excessOf(GREEN, "g", 0.5), 6);
  });
  it("refuses a screen that exceeds nothing", () =>
    expect(() => colourDifference(row([[0, 0, 0]]), { screen: { r: 0.3, g: 0.3, b: 0.3 }, primary: "g", weight: 0.5 })).toThrow(
      /sample the screen again/,
    ));
});

describe("matte levels", () => {
  it("maps black to 0, white to 1 and clips", () => {
    const m = matteLevels({ width: 5, height: 1, data: Float32Array.of(0, 0.1, 0.45, 0.8, 1) }, { black: 0.1, white: 0.8 });
    [0, 0, 0.5, 1, 1].forEach((v, i) => {
      expect(m.data[i]).toBeCloseTo(v, 6);
    });
  });
  it("with a knee leaves soft greys to the black point alone and makes solid what is nearly so", () => {
    const values = Float32Array.of(0, 0.1, 0.4, 0.6, 0.7, 0.75, 0.8, 1);
    const at = (levels: { black: number; white: number; knee: number }) => [
      ...matteLevels({ width: 8, height: 1, data: values }, levels).data,
    ];
    // The knee lies at 0.75 of 0.8, that is 0.6; from there to 0.8 the rest of the way.
    const bent = [0, 0.1, 0.4, 0.6, 0.8, 0.9, 1, 1];
    at({ black: 0, white: 0.8, knee: 0.75 }).forEach((v, i) => {
      expect(v).toBeCloseTo(bent[i]!, 6);
    });
    // With a black point: up to 0.6 as black alone would have it.
    const both = at({ black: 0.1, white: 0.8, knee: 0.75 });
    [0, 0, 0.3 / 0.9, 0.5 / 0.9].forEach((v, i) => {
      expect(both[i]).toBeCloseTo(v, 6);
    });
    expect(both[4]).toBeCloseTo((1 + 0.5 / 0.9) / 2, 6);
    // A knee under the black point is none.
    expect(at({ black: 0.1, white: 0.8, knee: 0.1 })).toEqual(at({ black: 0.1, white: 0.8, knee: 0 }));
  });
  it("refuses crossed points", () =>
    expect(() => matteLevels({ width: 1, height: 1, data: new Float32Array(1) }, { black: 0.5, white: 0.5 })).toThrow(RangeError));
});

describe("Porter–Duff over (SIGGRAPH 1984)", () => {
  it("gives A + (1 − αA)·B, in colour and coverage", () => {
    const front = row([[0.25, 0, 0.1]], [0.5]);
    const c = over(front, row([[0.2, 0.4, 0.8]], [0.8]));
    expect([c.r[0], c.g[0], c.b[0], c.a![0]].map((v) => Number(v!.toFixed(6)))).toEqual([0.35, 0.2, 0.5, 0.9]);
  });
  it("opaque over anything is itself; clear over anything is the other", () => {
    const back = row([[0.3, 0.2, 0.1]]);
    expect(over(row([[0.5, 0.6, 0.7]], [1]), back).g[0]).toBeCloseTo(0.6, 6);
    expect(over(row([[0, 0, 0]], [0]), back).g[0]).toBeCloseTo(0.2, 6);
  });
  it("is associative", () => {
    const [a, b, c] = [row([[0.1, 0.2, 0.3]], [0.4]), row([[0.3, 0.1, 0]], [0.5]), row([[0.2, 0.6, 0.1]], [0.7])];
    const left = over(over(a, b), c);
    const right = over(a, over(b, c));
    for (const k of ["r", "g", "b", "a"] as const) expect(left[k]![0]).toBeCloseTo(right[k]![0]!, 6);
  });
  it("straight over opaque in one pass equals premultiplying first", () => {
    const front = row([[0.9, 0.5, 0.2]], [0.3]);
    const back = row([[0.1, 0.2, 0.8]]);
    expect(straightOverOpaque(front, front.a!, back).b[0]).toBeCloseTo(over(premultiply(front), back).b[0]!, 6);
  });
  it("straight → premultiplied → straight comes back wherever something is covered", () => {
    const front = row(
      [
        [0.9, 0.5, 0.2],
        [0.4, 0.4, 3],
        [0.7, 0.7, 0.7],
      ],
      [0.25, 1, 0],
    );
    const back = unpremultiply(premultiply(front));
    for (const i of [0, 1]) expect(back.r[i]).toBeCloseTo(front.r[i]!, 6);
    expect(back.b[1]).toBeCloseTo(3, 6);
    expect(back.r[2]).toBe(0);
  });
});

describe("spill", () => {
  it("takes the excess over the chosen limit, by the amount, and no more", () => {
    const { picture, removed } = limitSpill(
      row([
        [0.4, 0.5, 0.2],
        [0.5, 0.3, 0.2],
      ]),
      { primary: "g", limit: "average", amount: 0.5 },
    );
    expect(removed[0]).toBeCloseTo(0.5 * (0.5 - 0.3), 6);
    expect(picture.g[0]).toBeCloseTo(0.4, 6);
    expect(picture.g[1]).toBeCloseTo(0.3, 6);
    expect(picture.r[0]).toBeCloseTo(0.4, 6);
  });
  it("limits by mean, larger or smaller of the others", () =>
    expect(["average", "maximum", "minimum"].map((l) => neutralLimit(0.2, 0.6, l as "average"))).toEqual([0.4, 0.6, 0.2]));
  it("works on blue", () =>
    expect(limitSpill(row([[0.2, 0.4, 0.9]]), { primary: "b", limit: "maximum", amount: 1 }).picture.b[0]).toBeCloseTo(0.4, 6));
});

describe("edge colour", () => {
  const spill = { primary: "g", limit: "average", amount: 1 } as const;
  it("gives the subject's own colour back in every mixture", () => {
    const F = [0.5, 0.34, 0.15] as const;
    for (const a of [0.05, 0.3, 0.7, 0.95]) {
      const plate = row([[a * F[0] + (1 - a) * GREEN.r, a * F[1] + (1 - a) * GREEN.g, a * F[2] + (1 - a) * GREEN.b]]);
      const { picture } = limitSpill(plate, spill);
      const out = edgeColour(plate, picture, { width: 1, height: 1, data: Float32Array.of(a) }, GREEN, 1, spill);
      expect(out.r[0]).toBeCloseTo(F[0], 4);
      expect(out.b[0]).toBeCloseTo(F[2], 4);
      expect(out.g[0]).toBeCloseTo(Math.min(F[1], (F[0] + F[2]) / 2), 4);
    }
  });
  it("leaves solid pixels as the spill step made them, and clear ones without colour", () => {
    const plate = row([
      [0.3, 0.5, 0.3],
      [GREEN.r, GREEN.g, GREEN.b],
    ]);
    const { picture } = limitSpill(plate, spill);
    const out = edgeColour(plate, picture, { width: 2, height: 1, data: Float32Array.of(1, 0) }, GREEN, 1, spill);
    expect(out.g[0]).toBeCloseTo(0.3, 6);
    expect([out.r[1], out.g[1], out.b[1]]).toEqual([0, 0, 0]);
  });
});

describe("background fit", () => {
  it("fills, shows whole, stretches or keeps pixels", () => {
    const f = (fit: "fill" | "whole" | "stretch" | "pixels") => fitPlacement(400, 100, 200, 100, { fit, scale: 1, x: 0, y: 0 });
    expect(f("fill")).toEqual({ scaleX: 1, scaleY: 1, offsetX: -100, offsetY: 0 });
    expect(f("whole")).toEqual({ scaleX: 0.5, scaleY: 0.5, offsetX: 0, offsetY: 25 });
    expect(f("stretch")).toEqual({ scaleX: 0.5, scaleY: 1, offsetX: 0, offsetY: 0 });
    expect(f("pixels").scaleX).toBe(1);
  });
});
