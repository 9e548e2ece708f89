import { describe, expect, it } from "vitest";
import { makePicture, makePlane, type Picture } from "../image/plane";
import { reportPlate } from "../screen/report";
import { cameraReading } from "../simulate/camera";
import { type Element, shoot } from "../simulate/shoot";
import { makeCamera, makeStage } from "../simulate/stage";
import { proposeRecipe } from "./auto";
import { judgeBlinking, judgeFrame, measureFrame, measureShot, type ShotFrame } from "./judge";
import { plateSource, type Sources } from "./sources";
import { StepCache } from "./step-cache";

const [W, H] = [480, 270];
const camera = makeCamera({ bits: 10, shotNoise: 0.0001, readNoise: 0.0003 });
const stage = makeStage({ distance: 1.2 });

/** An upright figure; frame 2 has specks on the screen that no other frame has, all have one that stays. */
function figure(frame: number): Element {
  const coverage = makePlane(W, H);
  const colour = makePicture(W, H);
  const put = (i: number, a: number) => {
    coverage.data[i] = a;
    colour.r[i] = 0.46 * a;
    colour.g[i] = 0.36 * a;
    colour.b[i] = 0.2 * a;
  };
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const d = y < 90 ? Math.hypot(x - 240, (y - 90) * 1.2) : Math.abs(x - 240);
      put(y * W + x, Math.min(1, Math.max(0, (62 - d) / 4)));
    }
  const speck = (x0: number, y0: number) => {
    for (let x = x0; x < x0 + 3; x++) put(y0 * W + x, 1);
  };
  speck(60, 60);
  if (frame === 2) for (let k = 0; k < 12; k++) speck(380 + 12 * (k % 3), 60 + 14 * Math.floor(k / 3));
  return { coverage, colour };
}
const plates = [1, 2, 3].map((frame) =>
  plateSource(`plate/${frame}`, shoot(figure(frame), stage, { ...camera, seed: frame }).plate, cameraReading(camera)),
);
const { recipe } = proposeRecipe(plates[0]!.picture, 1);
// Specks stand, so that there is something that can blink; grain does not, neither on the screen nor in the figure.
const { passes } = recipe;
const levels = { ...passes[0]!.matte, black: 0.2, white: 0.8, bounds: { ...passes[0]!.matte.bounds, on: false } };
const keyed = { ...recipe, passes: [{ ...passes[0]!, matte: levels }] };
const sourcesOf = async (frame: number): Promise<Sources> => ({
  plate: plates[frame - 1]!,
  nearby: [frame - 1, frame + 1].filter((n) => plates[n - 1]).map((n) => ({ frame: n, source: plates[n - 1]! })),
});

async function rows(r: typeof keyed, frames: readonly number[]): Promise<ShotFrame[]> {
  const out: ShotFrame[] = [];
  for await (const row of measureShot(r, sourcesOf, frames, 3, 1, new StepCache())) out.push(row);
  return out;
}

describe("judging a shot", () => {
  it("tells the evenness that the plate report tells, whatever the key makes of the screen", () => {
    const told = reportPlate(plates[0]!.picture, { transfer: "bt709", chromaFormat: "4:4:4", pixelAspect: 1 }).evenness.deviation;
    expect(told).toBeGreaterThan(0.002);
    for (const method of ["unmix", "luminance"] as const) {
      const pulled = { ...keyed, passes: [{ ...keyed.passes[0]!, pull: { ...keyed.passes[0]!.pull, method } }] };
      expect(measureFrame(pulled, { plate: plates[0]! }, { frame: 1, reduce: 1 }, new StepCache())?.evenness).toBe(told);
    }
  });
  it("names specks that are on one frame only, where they are, and dropping blinking ones mends it", async () => {
    const all = await rows(keyed, [1, 2, 3]);
    expect(all.map((r) => r.frame)).toEqual([1, 2, 3]);
    const blinking = all.map((r) => r.findings.find((f) => f.kind === "blinking-specks"));
    expect(blinking.map((f) => f !== undefined)).toEqual([false, true, false]);
    const { place, changes, figure: px } = blinking[1]!;
    expect(Number.parseInt(px, 10)).toBeGreaterThanOrEqual(30);
    expect(place!.x + place!.width / 2).toBeGreaterThan(360);
    expect(changes).toEqual([{ path: "time.blinking", value: expect.any(Number), recipe: true }]);
    const dropped = { ...keyed, time: { ...keyed.time, blinking: changes![0]!.value as number } };
    const [mended] = await rows(dropped, [2]);
    expect(mended!.findings.map((f) => f.kind)).not.toContain("blinking-specks");
  });

  it("names them for one frame by itself too, and nothing on its neighbours or where there are none", async () => {
    const judge = (frame: number, last = 3) =>
      judgeBlinking(keyed, sourcesOf, { frame, reduce: 1, pass: keyed.passes[0]!.id }, last, new StepCache());
    const [row] = await rows(keyed, [2]);
    expect(await judge(2)).toEqual(row!.findings.find((f) => f.kind === "blinking-specks"));
    expect(await judge(1)).toBeNull();
    expect(await judge(1, 1)).toBeNull();
  });

  it("gives a frame the figures it has by itself, whatever run of frames it was measured in", async () => {
    const [alone] = await rows(keyed, [2]);
    const [, among] = await rows(keyed, [1, 2, 3]);
    expect(among).toEqual(alone);
    const measured = measureFrame(keyed, { plate: plates[1]! }, { frame: 2, reduce: 1 }, new StepCache())!;
    expect(among!.holes).toBe(measured.holes);
    expect(among!.residue).toBe(measured.residue);
    expect(measured.histogram.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
  });

  it("tells flicker from the frame before, and none for the first", async () => {
    const [first, second] = await rows(keyed, [1, 2]);
    expect(first!.flicker).toBeNull();
    expect(second!.flicker).toBeGreaterThan(0);
  });

  it("says when the background's grain is not the camera's, by the screen's grain, and nothing where it is alike", () => {
    const behind = (grain: number): Picture => {
      const p = makePicture(W, H);
      let state = 1;
      for (let i = 0; i < p.r.length; i++) {
        // A sum of four even numbers: near enough to a bell.
        let sum = 0;
        for (let k = 0; k < 4; k++) {
          state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
          sum += state / 2 ** 32;
        }
        const coded = Math.max(0, 0.6 + (grain * (sum - 2)) / Math.sqrt(4 / 12));
        p.r[i] = p.g[i] = p.b[i] = coded ** 2;
      }
      return p;
    };
    const found = (grain: number) => {
      const background = { key: `behind/${grain}`, picture: behind(grain) };
      const scene = { ...keyed, scene: { ...keyed.scene, background: "a".repeat(64) } };
      const { list } = judgeFrame(scene, { plate: plates[0]!, background }, { frame: 1, reduce: 1, pass: "main" }, new StepCache());
      return list.find((f) => f.kind === "grain-mismatch");
    };
    const own = found(0);
    expect(own!.what).toMatch(/subject is grainier/);
    const camera = Number(/Grain is ([\d.]+) %/.exec(own!.why)![1]) / 100;
    expect(found(camera)).toBeUndefined();
    expect(found(5 * camera)!.what).toMatch(/background is grainier/);
  });

  it("says nothing before a screen is sampled", async () => {
    const bare = { ...keyed, screen: { ...keyed.screen, colour: null } };
    expect(measureFrame(bare, { plate: plates[0]! }, { frame: 1, reduce: 1 }, new StepCache())).toBeNull();
    expect(judgeFrame(bare, { plate: plates[0]! }, { frame: 1, reduce: 1, pass: "main" }, new StepCache()).list).toEqual([]);
  });
});
