import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { decode as decodePng } from "fast-png";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { FILM_DENSITY, linearToLog } from "../core/color/log";
import { srgbToLinear } from "../core/color/srgb";
import { parseRecipe } from "../core/recipe/schema";

const root = path.resolve(import.meta.dirname, "../..");
let folder: string;
const at = (name: string) => path.join(folder, name);
const sieve = (...args: string[]) => {
  const r = spawnSync(process.execPath, [path.join(root, "scripts/sieve.mjs"), ...args], {
    cwd: root,
    encoding: "utf8",
  });
  return { code: r.status, out: r.stdout, err: r.stderr };
};

/** A neutral disk before a green screen, 8-bit sRGB, with its rim mixed in code values. @param mirror radius, px, in which it mirrors the screen */
async function plate(name: string, shift = 0, mirror = 0): Promise<void> {
  const [w, h] = [160, 90];
  const codes = Buffer.alloc(w * h * 3);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const r = Math.hypot(x - 80 - shift, y - 45);
      // In its middle it may mirror the screen.
      const a = Math.min(1, Math.max(0, 25 - r + 0.5)) * (1 - 0.55 * Math.min(1, Math.max(0, mirror - r)));
      [180, 180, 180].forEach((f, c) => {
        codes[(y * w + x) * 3 + c] = Math.round(a * f + (1 - a) * [50, 170, 60][c]!);
      });
    }
  await sharp(codes, { raw: { width: w, height: h, channels: 3 } })
    .png()
    .toFile(at(name));
}

beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), "sieve-cli-"));
  for (let n = 1; n <= 3; n++) await plate(`plate.${String(n).padStart(4, "0")}.png`, n);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe("sieve", () => {
  it("report prints one JSON object", () => {
    const { code, out } = sieve("report", at("plate.0001.png"), "--json");
    expect(code).toBe(0);
    const report = JSON.parse(out);
    expect(report.screen.primary).toBe("g");
    expect(report.screen.share).toBeGreaterThan(0.8);
    expect(report.evenness.spread).toBeLessThan(0.01);
  });
  it("auto holds what stays half open inside the subject, when it is asked to", async () => {
    await plate("mirror.png", 0, 9);
    const auto = (...more: string[]) => {
      const done = sieve("auto", at("mirror.png"), "--recipe", at("mirror.json"), ...more);
      expect(done.code).toBe(0);
      expect(done.out).toContain("stays half open");
      expect(sieve("pull", at("mirror.png"), "--recipe", at("mirror.json"), "--out", at("mirror"), "--emit", "matte").code).toBe(0);
      const shapes = parseRecipe(JSON.parse(readFileSync(at("mirror.json"), "utf8"))).bounds.garbage;
      const matte = decodePng(readFileSync(at("mirror/matte.0001.png"))).data;
      return { kinds: shapes.map((s) => s.kind), middle: (matte[45 * 160 + 80] as number) / 65535, beside: matte[45 * 160 + 120] };
    };
    const open = auto();
    expect(open.kinds).toEqual([]);
    expect(open.middle).toBeLessThan(0.8);
    expect(auto("--hold")).toEqual({ kinds: ["holdout"], middle: 1, beside: 0 });
  });
  it("what is held follows what moves, over all frames of a clip", async () => {
    for (let n = 1; n <= 5; n++) await plate(`moving.000${n}.png`, 7 * (n - 2), 9);
    const auto = sieve("auto", at("moving.%04d.png"), "--recipe", at("moving.json"), "--hold", "--frame", "2");
    expect(auto.code).toBe(0);
    expect(auto.out).toMatch(/Holdout 1: followed over frames 1 to 5, \d keys\./);
    const [held] = parseRecipe(JSON.parse(readFileSync(at("moving.json"), "utf8"))).bounds.garbage;
    const frames = held?.keys.map((k) => k.frame) ?? [];
    expect([frames[0], frames.at(-1)]).toEqual([1, 5]);
    expect(sieve("pull", at("moving.%04d.png"), "--recipe", at("moving.json"), "--out", at("moving"), "--emit", "matte").code).toBe(0);
    for (let n = 1; n <= 5; n++) {
      const matte = decodePng(readFileSync(at(`moving/matte.000${n}.png`))).data;
      const middle = 45 * 160 + 80 + 7 * (n - 2);
      // Held where it is on this frame, and no farther.
      for (const off of [-8, 0, 8]) expect(matte[middle + off], `frame ${n}, ${off} px beside its middle`).toBe(65535);
      expect(matte[middle + 40]).toBe(0);
    }
  });
  it("auto writes a valid recipe, pull renders it by exact file names, score compares", () => {
    expect(sieve("auto", at("plate.0001.png"), "--recipe", at("r.json")).code).toBe(0);
    parseRecipe(JSON.parse(readFileSync(at("r.json"), "utf8")));
    const pulled = sieve(
      "pull",
      at("plate.%04d.png"),
      "--recipe",
      at("r.json"),
      "--out",
      at("out"),
      "--frames",
      "2-3",
      "--emit",
      "matte,foreground,composite",
      "--background",
      at("plate.0001.png"),
      "--json",
    );
    expect(pulled.code).toBe(0);
    for (const name of ["matte", "foreground", "composite"])
      for (const n of [2, 3]) expect(existsSync(at(`out/${name}.000${n}.png`))).toBe(true);
    expect(existsSync(at("out/matte.0001.png"))).toBe(false);
    const matte = decodePng(readFileSync(at("out/matte.0002.png")));
    expect([matte.depth, matte.channels, matte.data[45 * 160 + 82], matte.data[0]]).toEqual([16, 1, 65535, 0]);
    const foreground = decodePng(readFileSync(at("out/foreground.0002.png")));
    expect([foreground.depth, foreground.channels]).toEqual([16, 4]);
    for (let i = 0; i < matte.data.length; i++) expect(foreground.data[4 * i + 3]).toBe(matte.data[i]);
    const same = sieve("score", at("out/matte.0002.png"), at("out/matte.0002.png"), "--json");
    expect(JSON.parse(same.out)).toMatchObject({ sad: 0, mse: 0, gradient: 0, connectivity: 0 });
    expect(JSON.parse(sieve("score", at("out/matte.0002.png"), at("out/matte.0003.png"), "--json").out).sad).toBeGreaterThan(5);
  });
  it("pulls a longer shot in threads, each frame as it is alone, and says in one line which cannot be read", async () => {
    for (let n = 1; n <= 8; n++) await plate(`long.${String(n).padStart(4, "0")}.png`, 2 * n);
    const pull = (out: string, ...more: string[]) =>
      sieve("pull", at("long.%04d.png"), "--recipe", at("r.json"), "--out", at(out), "--emit", "matte,foreground", ...more);
    const long = pull("long", "--json");
    expect(long.code).toBe(0);
    const { files } = JSON.parse(long.out);
    expect(files).toHaveLength(16);
    expect(files.slice(-2)).toEqual([at("long/matte.0008.png"), at("long/foreground.0008.png")]);
    for (const file of files) expect(existsSync(file)).toBe(true);
    for (const n of [3, 8]) {
      expect(pull("alone", "--frames", `${n}-${n}`).code).toBe(0);
      for (const name of [`matte.000${n}.png`, `foreground.000${n}.png`])
        expect(readFileSync(at(`long/${name}`)).equals(readFileSync(at(`alone/${name}`)))).toBe(true);
    }
    expect(readFileSync(at("long/matte.0003.png")).equals(readFileSync(at("long/matte.0008.png")))).toBe(false);
    writeFileSync(at("long.0008.png"), "no picture");
    const broken = pull("broken");
    expect([broken.code, broken.err.trim().split("\n").length]).toEqual([1, 1]);
    expect(broken.err).toMatch(/long\.0008\.png/);
  });
  it("renders the levelled plate and the clean plate, made or supplied", async () => {
    const empty = Buffer.alloc(160 * 90 * 3);
    for (let i = 0; i < 160 * 90; i++) empty.set([50, 170, 60], 3 * i);
    await sharp(empty, { raw: { width: 160, height: 90, channels: 3 } })
      .png()
      .toFile(at("clean.png"));
    for (const clean of [[], ["--clean", at("clean.png")]]) {
      const out = at(clean.length ? "supplied" : "made");
      expect(sieve("pull", at("plate.0001.png"), "--out", out, "--emit", "levelled,cleanplate,matte", ...clean).code).toBe(0);
      const made = decodePng(readFileSync(path.join(out, "cleanplate.0001.png")));
      // Under the subject too there is screen: sRGB codes 50, 170, 60 of 255.
      [50, 170, 60].forEach((v, c) => {
        expect(Math.abs(made.data[3 * (45 * 160 + 80) + c]! / 257 - v)).toBeLessThan(1.5);
      });
      const levelled = decodePng(readFileSync(path.join(out, "levelled.0001.png")));
      expect(Math.abs(levelled.data[3 * (45 * 160 + 80)]! / 257 - 180)).toBeLessThan(1.5);
    }
    expect(sieve("auto", at("plate.0001.png"), "--clean", at("clean.png"), "--recipe", at("with-clean.json")).code).toBe(0);
    const forgotten = sieve("pull", at("plate.0001.png"), "--recipe", at("with-clean.json"), "--out", at("none"));
    expect(forgotten.code).toBe(1);
    expect(forgotten.err).toMatch(/--clean/);
  });
  it("makes a clean plate from a whole shot, and pulls against it", async () => {
    for (let n = 1; n <= 3; n++) await plate(`walk.${String(n).padStart(4, "0")}.png`, 60 * (n - 2));
    const made = sieve("clean", at("walk.%04d.png"), "--out", at("merged.exr"), "--json");
    expect(made.code).toBe(0);
    expect(JSON.parse(made.out).seen).toBeGreaterThan(0.9);
    expect(sieve("pull", at("walk.0002.png"), "--clean", at("merged.exr"), "--out", at("merged"), "--emit", "cleanplate").code).toBe(0);
    const { data } = decodePng(readFileSync(at("merged/cleanplate.0001.png")));
    [50, 170, 60].forEach((v, c) => {
      expect(Math.abs(data[3 * (45 * 160 + 80) + c]! / 257 - v)).toBeLessThan(1.5);
    });
    const still = sieve("clean", at("walk.0001.png"), "--out", at("no.exr"));
    expect([still.code, still.err]).toEqual([1, expect.stringMatching(/one frame only/)]);
    expect(sieve("clean", at("walk.%04d.png"), "--out", at("no.png")).code).toBe(2);
  });
  it("reads a plate by a curve that its file does not say, by name or by numbers, and pulls by the recipe that names it", async () => {
    const codes = Uint16Array.from(await sharp(at("plate.0001.png")).raw().toBuffer(), (v) =>
      Math.round(65535 * linearToLog(FILM_DENSITY, srgbToLinear(v / 255))),
    );
    await sharp(codes, { raw: { width: 160, height: 90, channels: 3 } })
      .toColourspace("rgb16")
      .png()
      .toFile(at("log.png"));
    const screenOf = (name: string, ...more: string[]) => JSON.parse(sieve("report", at(name), "--json", ...more).out).screen.colour;
    const [plain, log, mistaken] = [screenOf("plate.0001.png"), screenOf("log.png", "--curve", "film-density"), screenOf("log.png")];
    for (const c of ["r", "g", "b"]) expect(log[c]).toBeCloseTo(plain[c], 3);
    expect(Math.abs(mistaken.g - plain.g)).toBeGreaterThan(0.05);
    const { slope, gain, offset, base, cut, linearSlope, linearBase } = FILM_DENSITY;
    const numbers = [slope, gain, offset, base, cut, linearSlope, linearBase].join(",");
    expect(sieve("auto", at("log.png"), "--curve", numbers, "--recipe", at("log.json")).code).toBe(0);
    const recipe = parseRecipe(JSON.parse(readFileSync(at("log.json"), "utf8")));
    expect(recipe.plate.transfer).toEqual(FILM_DENSITY);
    expect(sieve("pull", at("log.png"), "--recipe", at("log.json"), "--out", at("log")).code).toBe(0);
    expect(sieve("pull", at("plate.0001.png"), "--out", at("plain")).code).toBe(0);
    const [a, b] = [at("log/matte.0001.png"), at("plain/matte.0001.png")].map((f) => decodePng(readFileSync(f)).data);
    let worst = 0;
    for (let i = 0; i < a!.length; i++) worst = Math.max(worst, Math.abs(a![i]! - b![i]!) / 65535);
    expect(worst).toBeLessThan(0.02);
    // A background of the same camera: read as the plate is, its corner has the colour that was filmed.
    const corner = (asPlate: boolean) => {
      writeFileSync(at("behind.json"), JSON.stringify({ ...recipe, scene: { ...recipe.scene, asPlate } }));
      const made = ["--recipe", at("behind.json"), "--background", at("log.png"), "--emit", "composite", "--out", at("behind")];
      expect(sieve("pull", at("log.png"), ...made).code).toBe(0);
      return [...decodePng(readFileSync(at("behind/composite.0001.png"))).data.slice(0, 3)].map((v) => Math.round(v / 257));
    };
    expect(corner(true)).toEqual([50, 170, 60]);
    expect(corner(false)).not.toEqual([50, 170, 60]);
    for (const wrong of ["foo", "1,2,3", `${numbers},1`])
      expect(sieve("report", at("log.png"), "--curve", wrong)).toMatchObject({ code: 2, err: expect.stringMatching(/is no curve/) });
    expect(sieve("pull", at("log.png"), "--recipe", at("log.json"), "--curve", "srgb", "--out", at("log")).code).toBe(2);
  });
  it("pulls without a recipe, as EXR too", () => {
    expect(sieve("pull", at("plate.0001.png"), "--out", at("exr"), "--emit", "foreground,matte", "--format", "exr").code).toBe(0);
    expect(readFileSync(at("exr/foreground.0001.exr")).readUInt32LE(0)).toBe(20000630);
  });
  it("ends with 1 and one line on a stated error", () => {
    writeFileSync(at("bad.json"), JSON.stringify({ version: 1 }));
    const recipe = JSON.parse(readFileSync(at("r.json"), "utf8"));
    recipe.screen.from = "none";
    writeFileSync(at("one-colour.json"), JSON.stringify(recipe));
    for (const [args, message] of [
      [["report", at("none.png")], /does not exist/],
      [["report", folder], /is a folder\. Name a still/],
      [["pull", at("plate.0001.png"), "--out", at("r.json")], /r\.json cannot be made: a file is in the way/],
      [["pull", at("plate.0001.png"), "--out", at("x"), "--recipe", at("plate.0001.png")], /is no JSON/],
      [["pull", at("plate.0001.png"), "--out", at("x"), "--recipe", at("bad.json")], /not a valid recipe/],
      [["pull", at("plate.0001.png"), "--out", at("x"), "--frames", "1-9"], /no frame 9/],
      [["pull", at("plate.0001.png"), "--out", at("x"), "--recipe", at("one-colour.json"), "--emit", "cleanplate"], /makes no clean plate/],
    ] as const) {
      const { code, err } = sieve(...args);
      expect(code).toBe(1);
      expect(err).toMatch(message);
      expect(err.trim().split("\n")).toHaveLength(1);
    }
  });
  it("ends with 2 on wrong usage", () => {
    for (const args of [
      ["pull", at("plate.0001.png")],
      ["dance"],
      ["pull", at("plate.0001.png"), "--out", at("x"), "--emit", "hat"],
      ["report", at("plate.0001.png"), "--frame", "zero"],
    ])
      expect(sieve(...args).code).toBe(2);
  });
});
