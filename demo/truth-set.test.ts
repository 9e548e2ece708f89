import { describe, expect, it } from "vitest";
import { readTruth, truthFrames, truthNames } from "./truth-set";

describe("the truth plates", () => {
  it("are six set-ups, two of them clips", () => {
    expect(truthNames()).toEqual(["blue", "gloves", "honey", "smoker", "veil", "wide"]);
    expect(truthNames().filter((n) => truthFrames(n) > 1)).toHaveLength(2);
  });
  /** Where the subject is; beside it the plate also holds its shadow on the screen. Glass bends the screen: honey is the widest. */
  it.each([
    ["blue", 0.005, 0.035],
    ["gloves", 0.003, 0.025],
    ["honey", 0.008, 0.05],
    ["smoker", 0.002, 0.015],
    ["veil", 0.004, 0.03],
    ["wide", 0.004, 0.03],
  ])("%s: the plate is the spilled subject + (1 − coverage) · screen", async (name, median, most) => {
    const t = await readTruth(name);
    const off: number[] = [];
    for (const c of ["r", "g", "b"] as const)
      for (let i = 0; i < t.plate.r.length; i++)
        if (t.coverage.data[i]! > 0.02) off.push(t.plate[c][i]! - (t.spilled[c][i]! + (1 - t.coverage.data[i]!) * t.clean[c][i]!));
    const size = Float32Array.from(off, Math.abs).sort();
    const mean = off.reduce((s, v) => s + v, 0) / off.length;
    const at = (q: number) => size[Math.floor(q * (size.length - 1))]!;
    console.log(
      `${name}: mean difference ${mean.toFixed(5)}, median ${at(0.5).toFixed(5)}, 95 % under ${at(0.95).toFixed(4)}, 99 % under ${at(0.99).toFixed(4)}`,
    );
    // Grain of the renderer's soft lights: signed differences cancel, their size stays.
    expect(Math.abs(mean)).toBeLessThan(0.002);
    expect(at(0.5)).toBeLessThan(median);
    expect(at(0.95)).toBeLessThan(most);
  });
  it.each(["veil", "smoker", "honey"])("%s has soft coverage, and some of it is far from any solid part", async (name) => {
    const { coverage } = await readTruth(name);
    const soft = coverage.data.filter((v) => v > 0.02 && v < 0.98).length / coverage.data.length;
    expect(soft).toBeGreaterThan(0.005);
    for (const v of coverage.data) expect(v >= 0 && v <= 1).toBe(true);
  });
  it("without the screen's light the subject is less green", async () => {
    const t = await readTruth("veil");
    const green = (p: typeof t.free) => p.g.reduce((s, v, i) => s + (t.coverage.data[i]! > 0.99 ? v - 0.5 * (p.r[i]! + p.b[i]!) : 0), 0);
    expect(green(t.free)).toBeLessThan(green(t.spilled));
  });
});
