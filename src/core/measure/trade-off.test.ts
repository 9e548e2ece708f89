import { describe, expect, it } from "vitest";
import { bracketValues, proposeKnee, type TradeOff } from "./trade-off";

const point = (open: number, edgeLoss: number, flicker: number | null = null): TradeOff => ({
  holes: open,
  residue: 0,
  edgeLoss,
  flicker,
});

describe("the knee of a bracket", () => {
  it("is where holes are gone and the edge is still kept", () => {
    const knee = proposeKnee([point(3980, 0.004), point(2210, 0.009), point(1204, 0.021), point(31, 0.029), point(0, 0.097)], 2)!;
    expect(knee.index).toBe(3);
    expect(knee.why).toBe("holes and residue 1204 → 31 px, edge loss +0.8 %");
  });
  it("stays where it is when any step costs more than it gains", () => {
    expect(proposeKnee([point(400, 0.01), point(10, 0.012), point(8, 0.4)], 1)).toEqual({ index: 1, why: expect.stringMatching(/now/) });
  });
  it("is not told where the figures hardly change", () => {
    expect(proposeKnee([point(100, 0.01), point(104, 0.0105), point(98, 0.011)], 1)).toBeNull();
    expect(proposeKnee([point(1, 1)], 0)).toBeNull();
  });
  it("does not open thousands of pixels for a trace of edge", () => {
    expect(proposeKnee([point(7432, 0.062), point(3004, 0.065), point(9060, 0.065)], 1)!.index).toBe(1);
  });
  it("counts flicker where there is one", () => {
    const knee = proposeKnee([point(0, 0, 9), point(0, 0, 4), point(0, 0, 4)], 0)!;
    expect(knee.index).toBe(1);
    expect(knee.why).toBe("flicker 9.0 → 4.0 ‰");
  });
});

describe("the values of a bracket", () => {
  it("lie evenly around the present one", () => expect(bracketValues(86, 4, 5, 2, 100)).toEqual([78, 82, 86, 90, 94]));
  it("are shifted inwards at the end of the range", () => {
    expect(bracketValues(100, 4, 5, 2, 100)).toEqual([84, 88, 92, 96, 100]);
    expect(bracketValues(0, 2, 5, 0, 98)).toEqual([0, 2, 4, 6, 8]);
    expect(bracketValues(3, 2, 5, 0, 98)).toEqual([1, 3, 5, 7, 9]);
  });
  it("are fewer where the range is too narrow for all", () => expect(bracketValues(5, 4, 5, 0, 10)).toEqual([1, 5, 9]));
  it("always hold the present value", () => {
    for (const now of [0, 0.1, 3.3, 9.9, 10]) expect(bracketValues(now, 1, 5, 0, 10).some((v) => Math.abs(v - now) < 1e-9)).toBe(true);
  });
});
