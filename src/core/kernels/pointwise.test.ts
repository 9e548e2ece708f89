import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { compileKernels, target } from "../../../scripts/kernels.mjs";
import { linearToLab } from "../color/lab";
import { random } from "../image/random";
import { hueOffset, neutralLimit, type SpillLimit, spillParameters } from "../spill/limit";
import { type Operand, pointwise } from "./pointwise";

/** More than a block, and no whole number of fours. */
const N = 4096 + 2049;
const next = random(21);
const plane = (from = 0, to = 1) => Float32Array.from({ length: N }, () => from + (to - from) * next());
const at = (o: Operand, i: number) => (typeof o === "number" ? o : o[i]!);

/** Runs a kernel, and holds it against the same in double precision, pixel by pixel. */
function holds(
  kernel: Parameters<typeof pointwise>[0],
  parameters: number[],
  inputs: Operand[],
  wanted: (v: number[]) => number[],
  tolerance = 2e-6,
) {
  const outputs = wanted(inputs.map((o) => at(o, 0))).map(() => new Float32Array(N).fill(Number.NaN));
  pointwise(kernel, parameters, inputs, outputs);
  let worst = 0;
  for (let i = 0; i < N; i++) {
    const w = wanted(inputs.map((o) => at(o, i)));
    for (let k = 0; k < w.length; k++) worst = Math.max(worst, Math.abs(outputs[k]![i]! - w[k]!));
  }
  expect(worst, kernel).toBeLessThan(tolerance);
}
const clip = (v: number) => Math.min(1, Math.max(0, v));

describe("pointwise kernels", () => {
  it("the committed module is what kernels/ compile to", async () => {
    expect(readFileSync(target, "utf8")).toBe(await compileKernels());
  });

  it("sums, levels, bounds and over equal plain arithmetic", () => {
    holds("weigh", [0.3, -0.5, 1.25], [plane(), plane(), plane(-1, 1)], ([a, b, c]) => [0.3 * a! - 0.5 * b! + 1.25 * c!]);
    holds("levels", [0.1, 1 / 0.9, 0.4, 2.5], [plane()], ([m]) => [clip(Math.max((m! - 0.1) / 0.9, (m! - 0.4) * 2.5))]);
    holds("bounded", [], [plane(), plane(), plane()], ([m, held, out]) => [(m! + (1 - m!) * held!) * (1 - out!)]);
    holds("bounded", [], [plane(), 0, plane()], ([m, , out]) => [m! * (1 - out!)]);
    holds(
      "over",
      [],
      Array.from({ length: 7 }, () => plane()),
      ([a, r, g, b, R, G, B]) => [a! * r! + (1 - a!) * R!, a! * g! + (1 - a!) * G!, a! * b! + (1 - a!) * B!],
    );
  });

  it.each([Number.POSITIVE_INFINITY, 1.1])(
    "the difference equals (e(B) − e(C)) / (e(B) − e(F)), clipped, no less than a light of %d at most allows, and is 1 where the screen has no excess",
    (top) => {
      const screen = [plane(0, 0.8), plane(0, 0.3), plane(0, 0.3)];
      holds(
        "difference",
        [0.4, 0.6, 0.6, top, 0.1],
        [plane(), plane(), plane(), ...screen, plane(-1, 1)],
        ([p, u, v, P, U, V, own]) => {
          const b = P! - 0.4 * U! - 0.6 * V!;
          if (b <= 1e-6) return [1];
          const f = Math.max(-2 * b, Math.min(0.6 * b, own!));
          const bright = Math.min((u! - U!) / (top - U!), (v! - V!) / (top - V!)) - 0.1;
          return [clip(Math.max((b - (p! - 0.4 * u! - 0.6 * v!)) / (b - f), bright))];
        },
        // Where the screen's excess is next to nothing, single precision shows.
        2e-2,
      );
    },
  );

  /** Spill of one pixel, in words of the published sources of src/core/spill/limit.ts. */
  const spill =
    (limit: SpillLimit, mix: number, amount: number, warm: number, cool: number) => (p: number, u: number, v: number, own: number) => {
      const over = p - neutralLimit(u, v, limit, mix) - own * (0.7152 * p + 0.2126 * u + 0.0722 * v);
      const offset = hueOffset(p, u, v);
      const s = warm >= 180 && cool >= 180 ? 0 : clip((Math.abs(offset) - (offset >= 0 ? warm : cool)) / 20);
      return over > 0 ? amount * over * (1 - s * s * (3 - 2 * s)) : 0;
    };

  it.each([
    ["average", 180, 180],
    ["maximum", 30, 50],
    ["minimum", 60, 10],
    ["mix", 180, 20],
  ] as const)("spill by the %s limit, reach %d and %d", (limit, reachWarm, reachCool) => {
    const settings = { primary: "g", limit, mix: 0.3, amount: 0.8, replace: "neutral", reachWarm, reachCool } as const;
    const parameters = spillParameters(settings);
    const of = spill(limit, 0.3, 0.8, reachWarm, reachCool);
    const unit = 0.7152;
    holds(
      "limitSpill",
      parameters,
      [plane(), plane(), plane(), plane(-0.2, 0.2)],
      ([p, u, v, own]) => {
        const take = of(p!, u!, v!, own!);
        return [p! + (unit - 1) * take, u! + unit * take, v! + unit * take, take];
      },
      1e-5,
    );
    // Greys, where no hue can be told.
    holds("limitSpill", parameters, [0.5, 0.5, 0.5, 0], () => [0.5, 0.5, 0.5, 0]);

    const matte = plane(0.05, 1).map((m, i) => (i % 3 === 0 ? 1 : i % 7 === 0 ? 0 : m));
    const all = [plane(), plane(), plane(), plane(), plane(), plane(), matte, 0.4, 0.1, 0.2, plane(-0.2, 0.2)];
    holds(
      "screenOut",
      [...parameters, 1],
      all,
      ([p, u, v, tp, tu, tv, m, bp, bu, bv, own]) => {
        if (m === 1) return [tp!, tu!, tv!, 0];
        if (m === 0) return [0, 0, 0, 0];
        const out = (c: number, b: number) => Math.max(0, (c - (1 - m!) * b) / m!);
        const [P, U, V] = [out(p!, bp!), out(u!, bu!), out(v!, bv!)];
        const take = of(P, U, V, own!);
        return [P + (unit - 1) * take, U + unit * take, V + unit * take, take];
      },
      // Up to twenty times the plate's own numbers come out of thin pixels.
      1e-3,
    );
  });

  it("a* and b*, and distances in them, equal those of CIE 15:2004 in double precision, dark colours with them", () => {
    const [inner, outer, stretch] = [8, 60, 1.6];
    const inputs = [plane(0, 0.3), plane(0, 0.3), plane(0, 0.02)];
    holds(
      "chroma",
      [],
      inputs,
      ([r, g, b]) => {
        const c = linearToLab({ r: r!, g: g!, b: b! });
        const length = Math.hypot(c.a, c.b);
        return [c.a, c.b, c.a / length, c.b / length];
      },
      1e-3,
    );
    holds(
      "chromaDistance",
      [inner, 1 / (outer - inner), stretch],
      [...inputs, plane(-80, 80), plane(-80, 80), plane(0, 2 * Math.PI).map(Math.cos), 0.6],
      ([r, g, b, a, sb, ua, ub]) => {
        const c = linearToLab({ r: r!, g: g!, b: b! });
        const along = ((c.a - a!) * ua! + (c.b - sb!) * ub!) / stretch;
        const across = (c.a - a!) * ub! - (c.b - sb!) * ua!;
        return [clip((Math.hypot(along, across) - inner) / (outer - inner))];
      },
      2e-5,
    );
    // A grey screen has no hue: its axis is that of a*.
    holds("chromaDistance", [0, 1 / 100, 1], [0.2, 0.2, 0.2, 0, 0, 1, 0], () => [0], 1e-5);
  });

  it("the soft step is 0 and 1 beyond its ends, and v²·(3 − 2v) between", () => {
    holds("ramp", [6, 1 / 2.5], [plane(0, 12)], ([d]) => {
      const v = clip((d! - 6) / 2.5);
      return [v * v * (3 - 2 * v)];
    });
    holds("ramp", [6, 1 / 2.5], [6], () => [0]);
    holds("ramp", [6, 1 / 2.5], [8.5], () => [1]);
  });

  it("products, means of what is known, variance and how steeply one follows another equal plain arithmetic", () => {
    holds("product", [], [plane(-1, 1), plane()], ([a, b]) => [a! * b!]);
    const known = plane().map((v) => (v < 0.3 ? 0 : v));
    holds("meanWhere", [], [plane(), plane(0.1, 1), known], ([sum, total, k]) => [k! > 0 ? sum! / total! : 0], 1e-5);
    // Codes of ten bits, whose squares leave little beside themselves.
    const [mean, other] = [plane(900, 1000), plane(900, 1000)];
    const square = mean.map((m) => m * m + 40 * next() - 5);
    holds("variance", [6], [square, mean], ([sq, m]) => [Math.max(0, sq! - m! * m!) + 6], 1e-5);
    const products = mean.map((m, i) => m * other[i]! + 40 * next() - 20);
    holds(
      "steepness",
      [1.5],
      [products, mean, other, plane(6, 40)],
      ([q, a, b, v]) => [Math.min(1.5, Math.max(-1.5, (q! - a! * b!) / v!))],
      1e-5,
    );
  });

  /** The same for a kernel that tells 1 or 0. */
  const tells = (kernel: Parameters<typeof pointwise>[0], parameters: number[], inputs: Operand[], wanted: (v: number[]) => boolean[]) => {
    const outputs = wanted(inputs.map((o) => at(o, 0))).map(() => new Uint8Array(N).fill(7));
    pointwise(kernel, parameters, inputs, outputs);
    outputs.forEach((out, k) => {
      const unlike = out.findIndex((v, i) => v !== Number(wanted(inputs.map((o) => at(o, i)))[k]));
      expect(unlike, `${kernel}, result ${k}`).toBe(-1);
      expect(out.includes(1) && out.includes(0)).toBe(true);
    });
  };

  it("masks tell where a value lies between others, what is solid, and what is the screen in shade", () => {
    tells("within", [0.25, 0.5], [plane()], ([v]) => [v! > 0.25 && v! < 0.5]);
    tells("within", [0.25, Number.POSITIVE_INFINITY], [plane()], ([v]) => [v! > 0.25]);
    tells("firm", [0.875, 0.5, 0.75], [plane(), plane()], ([m, around]) => [m! >= 0.875, m! >= 0.875 || (m! > 0.5 && around! >= 0.75)]);
    tells("thin", [0.25], [plane(-1, 1), plane(-1, 1), plane(0, 0.25)], ([lack, around, instead]) => [
      lack! > 0 && instead! <= 0.25 * Math.max(around!, lack! / 3),
    ]);
    tells("shaded", [0.125, 0.25], [plane(), plane(), plane(0.2, 1), plane(0, 0.3), 0.1], ([m, both, p, a, b]) => [
      m! >= 0.125 * p! && m! < p! && both! - (m! / p!) * (a! + b!) <= 0.25 * (p! - m!),
    ]);
    holds(
      "missing",
      [],
      [plane(), plane(), plane(), plane(0.2, 1), plane(0, 0.3), plane(0, 0.3)],
      ([m, u, v, p, a, b]) => [p! - m!, u! + v! - (m! / p!) * (a! + b!)],
      1e-5,
    );
  });

  it("planes of different sizes are refused", () => {
    expect(() => pointwise("levels", [0, 1, 0, 1], [new Float32Array(7)], [new Float32Array(8)])).toThrow(RangeError);
  });
});
