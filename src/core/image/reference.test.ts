import { beforeAll, describe, expect, it } from "vitest";
import { type OpenCv, withMat, withOpenCv } from "../../../tests/support/opencv";
import { automaticBounds } from "../matte/auto-bounds";
import { gaussianBlur } from "./blur";
import { labelComponents } from "./components";
import { distanceTo } from "./distance";
import { random } from "./random";

/** Image operations against a general-purpose library, OpenCV 4.12. */
describe("against a general-purpose image library", () => {
  let cv: OpenCv;
  beforeAll(() =>
    withOpenCv((library) => {
      cv = library;
    }),
  );
  const [width, height] = [121, 83];
  const noise = (seed: number) => {
    const next = random(seed);
    return Float32Array.from({ length: width * height }, () => next());
  };
  const blobs = (seed: number, level = 0.5) => Uint8Array.from(gaussianBlur(noise(seed), width, height, 5), (v) => (v > level ? 1 : 0));

  it.each([0.7, 1.4, 3, 8])("Gaussian blur of σ %f px, edge pixels repeated: within 1e-5", (sigma) => {
    const source = noise(7);
    const size = 2 * Math.ceil(3 * sigma) + 1;
    const theirs = withMat(cv, source, width, height, (from, to) =>
      cv.GaussianBlur(from, to, new cv.Size(size, size), sigma, sigma, cv.BORDER_REPLICATE),
    );
    const ours = gaussianBlur(source, width, height, sigma);
    expect(Math.max(...ours.map((v, i) => Math.abs(v - (theirs[i] as number))))).toBeLessThan(1e-5);
  });

  it.each([1, 2, 3])("Euclidean distance of mask %i: within 1e-3 px", (seed) => {
    const mask = blobs(seed);
    const zeros = mask.map((v) => (v ? 0 : 1));
    const theirs = withMat(cv, zeros, width, height, (from, to) => cv.distanceTransform(from, to, cv.DIST_L2, cv.DIST_MASK_PRECISE));
    const ours = distanceTo(mask, width, height);
    expect(Math.max(...ours.map((v, i) => Math.abs(v - (theirs[i] as number))))).toBeLessThan(1e-3);
  });

  it.each([1, 2, 4, 7])("grow and shrink by %i px: the same pixels as dilating and eroding by that disc", (radius) => {
    const mask = blobs(11);
    const side = 2 * radius + 1;
    const disc = Array.from({ length: side * side }, (_, i) =>
      ((i % side) - radius) ** 2 + (Math.floor(i / side) - radius) ** 2 <= radius * radius ? 1 : 0,
    );
    const theirs = (erode: boolean) =>
      withMat(cv, mask, width, height, (from, to) => {
        const kernel = cv.matFromArray(side, side, cv.CV_8UC1, disc);
        (erode ? cv.erode : cv.dilate)(from, to, kernel);
        kernel.delete();
      });
    const grown = distanceTo(mask, width, height).map((d) => (d <= radius ? 1 : 0));
    const shrunk = distanceTo(
      mask.map((v) => 1 - v),
      width,
      height,
    ).map((d) => (d > radius ? 1 : 0));
    expect(grown).toEqual(theirs(false));
    expect(shrunk).toEqual(theirs(true));
  });

  it("automatic bounds lie where dilating and eroding the harsh key puts them", () => {
    const mask = blobs(5);
    const pull = { width, height, data: gaussianBlur(Float32Array.from(mask), width, height, 0.5) };
    const settings = { outLevel: 0.1, grow: 6, inLevel: 0.9, shrink: 5, soft: 0.5, specks: 0, islands: 0 };
    const bounds = automaticBounds(pull, settings, 1);
    // The harsh keys, over 3 × 3 as they are read.
    const calm = withMat(cv, pull.data, width, height, (from, to) =>
      cv.blur(from, to, new cv.Size(3, 3), new cv.Point(-1, -1), cv.BORDER_REPLICATE),
    );
    const disc = (r: number) => cv.getStructuringElement(cv.MORPH_ELLIPSE, new cv.Size(2 * r + 1, 2 * r + 1));
    const grown = withMat(
      cv,
      Uint8Array.from(calm, (v) => (v > 0.1 ? 1 : 0)),
      width,
      height,
      (from, to) => cv.dilate(from, to, disc(5)),
    );
    // Inside the grown key nothing is out; and whatever is out is out of it.
    let out = 0;
    for (let i = 0; i < grown.length; i++) {
      if (grown[i]) expect(bounds.out[i]).toBe(0);
      else if ((bounds.out[i] as number) === 1) out++;
    }
    expect(out).toBeGreaterThan(200);
  });

  it.each([0.5, 0.55])("areas over %f: as many, as large, as labelled", (level) => {
    const mask = blobs(13, level);
    const stats = new cv.Mat();
    const centres = new cv.Mat();
    let count = 0;
    withMat(cv, mask, width, height, (from, to) => {
      count = cv.connectedComponentsWithStats(from, to, stats, centres, 4, cv.CV_32S);
    });
    const theirs = Array.from({ length: count - 1 }, (_, k) => stats.intAt(k + 1, cv.CC_STAT_AREA));
    const ours = labelComponents(mask, width, height).areas.slice(1);
    expect(ours.sort((a, b) => a - b)).toEqual(theirs.sort((a, b) => a - b));
    expect(count).toBeGreaterThan(2);
    stats.delete();
    centres.delete();
  });
});
