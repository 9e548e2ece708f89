import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { decode as decodePng } from "fast-png";
import { ACESCCT, type LogCurve, logToLinear } from "../../src/core/color/log";
import { linearToSrgb } from "../../src/core/color/srgb";
import type { Proposed } from "../../src/core/documents/proposed";
import { movedBy } from "../../src/core/image/affine";
import { type KeyedOutline, outlineAt } from "../../src/core/matte/keys";
import type { Shape } from "../../src/core/recipe/drawn-schema";
import { defaultRecipe, type Pass, type Recipe } from "../../src/core/recipe/schema";
import { strokeMotion } from "../../src/core/spill/paint";
import { turnedClip } from "../turned-clip";
import { BenchServer, root } from "./bench-server";
import { drag, figure, onPage, restingAt, settled, shownAt, shownAtAll } from "./picture";

const server = new BenchServer(4471);
const VEIL = "/api/shots/1";
let seeded: unknown;
test.beforeAll(async () => {
  server.seed();
  await server.start();
  seeded = (await server.json<{ recipe: unknown }>(VEIL)).recipe;
});
// Every test begins with the recipe that the demo comes with, whatever the one before it left.
test.beforeEach(async () => {
  await server.take(VEIL, seeded);
  const { view } = await server.json<{ view: object }>(VEIL);
  const whole = { ...view, frame: 1, zoom: 0 };
  await server.fetch(`${VEIL}/view`, { method: "PUT", body: JSON.stringify(whole), headers: { "content-type": "application/json" } });
});
test.afterAll(() => server.remove());

interface ListedShot {
  id: number;
  name: string;
  plateId: string;
  info: { width: number; height: number; frames: number };
}
const shots = async () => (await server.json<{ name: string; shots: ListedShot[] }[]>("/api/jobs"))[0]!.shots;

async function open(page: Page, name: RegExp): Promise<ListedShot> {
  await page.goto(server.address);
  await page.getByRole("link", { name }).click();
  await expect(page.getByRole("navigation", { name: "Steps" })).toBeVisible();
  return (await shots()).find((s) => name.test(s.name))!;
}

/** Gives a shot the recipe that it had before anything was touched. */
async function untouch(name: RegExp): Promise<void> {
  await server.take(`/api/shots/${(await shots()).find((s) => name.test(s.name))!.id}`, defaultRecipe());
}

const rung = (page: Page, step: string) =>
  page.getByRole("navigation", { name: "Steps" }).getByRole("button", { name: new RegExp(`^${step}`) });

test("from an untouched plate to a delivered key", async ({ page }) => {
  const shot = await open(page, /honey table/);
  const { width: w, height: h } = shot.info;
  const at = (x: number, y: number) => onPage(page, shot.info, x * w, y * h);

  // Sample the screen by dragging a box over its upper middle.
  await expect(page.getByTestId("figure-Matte")).toHaveText("no screen");
  await rung(page, "Screen").click();
  await page.getByRole("button", { name: "Sample the screen" }).click();
  await drag(page, await at(0.45, 0.05), await at(0.53, 0.13));
  await expect(page.getByTestId("figure-Screen")).toHaveText(/±\d\.\d\d st/);
  await expect(page.getByRole("complementary")).toContainText("green");

  // The white point closes holes: in the figure on the rung and in the viewer's pixels.
  await rung(page, "Matte").click();
  const white = page.getByRole("textbox", { name: "White point" });
  await white.fill("100");
  await white.press("Enter");
  await settled(page);
  const open100 = await figure(page, "Matte");
  expect(open100).toBeGreaterThan(100);
  const grey = await darkestWhite(page, shot.info);
  await white.fill("70");
  await white.press("Enter");
  await settled(page);
  expect(await figure(page, "Matte")).toBeLessThan(open100 / 2);
  await expect.poll(async () => (await shownAt(page, shot.info, grey.x, grey.y))[0]).toBeGreaterThan(grey.value);
  // Raising it again opens them again.
  await white.fill("95");
  await white.press("Enter");
  await settled(page);
  expect(await figure(page, "Matte")).toBeGreaterThan(0);
  await white.fill("80");
  await white.press("Enter");
  await settled(page);

  // Draw a garbage polygon around the middle: what lies outside turns black in the matte.
  await rung(page, "Bounds").click();
  const follow = page.getByRole("switch", { name: "Follow the subject" });
  for (const figure of ["automatic", "none"]) {
    await follow.click();
    await expect(page.getByTestId("figure-Bounds")).toHaveText(figure);
  }
  await page.getByRole("button", { name: "Draw garbage" }).click();
  for (const [x, y] of [
    [0.1, 0.02],
    [0.9, 0.02],
    [0.9, 0.98],
    [0.1, 0.98],
  ] as const) {
    const p = await at(x, y);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press("Enter");
  await settled(page);
  await expect(page.getByTestId("figure-Bounds")).toHaveText(/clear|drawn/);
  await page.getByRole("radio", { name: "Matte", exact: true }).click();
  await expect.poll(() => shownAt(page, shot.info, 0.03 * w, 0.85 * h)).toEqual([0, 0, 0]);

  // A background behind: the screen's place shows it. The log's line of it is held up on its way to the server.
  let [letGo, caught] = [() => {}, () => {}];
  const held = new Promise<void>((r) => {
    letGo = r;
  });
  const completing = new Promise<void>((r) => {
    caught = r;
  });
  await page.route("**/api/shots/*/log/*", async (route) => {
    caught();
    await held;
    await route.continue();
  });
  await rung(page, "Scene").click();
  await page.getByRole("radio", { name: /pantry/ }).click();
  await expect.poll(async () => isGreen(await shownAt(page, shot.info, 0.5 * w, 0.06 * h))).toBe(false);

  // Deliver while that is still being saved, and on a machine that has lost its network; read the file and compare it
  // with the matte the browser's worker computes.
  await completing;
  await rung(page, "Deliver").click();
  await expect(page.getByRole("complementary")).toContainText("linear coverage");
  await page.evaluate(() => window.dispatchEvent(new Event("offline")));
  await expect(page.getByRole("banner").getByRole("status")).toHaveText("Saving…");
  await page
    .getByRole("complementary")
    .getByRole("button", { name: /^Deliver 1 frame/ })
    .click({ timeout: 30_000 });
  letGo();
  const card = page.locator("[data-testid^=delivery-]").first();
  await expect(card).toHaveAttribute("data-state", "done");
  const [download] = await Promise.all([page.waitForEvent("download"), card.getByRole("link", { name: "foreground.0001.png" }).click()]);
  const png = decodePng(readFileSync((await download.path())!));
  expect([png.width, png.height, png.depth, png.channels]).toEqual([w, h, 16, 4]);

  const points = Array.from({ length: 60 }, (_, i) => ({ x: Math.floor(((i * 0.618034) % 1) * w), y: Math.floor(((i + 0.5) / 60) * h) }));
  const mattes = await workerMattes(page, shot, points);
  let soft = 0;
  mattes.forEach((m, i) => {
    const { x, y } = points[i]!;
    const alpha = png.data[4 * (y * w + x) + 3]! / 65535;
    expect(Math.abs(alpha - m), `${x}, ${y}`).toBeLessThanOrEqual(1 / 65535);
    if (m > 0 && m < 1) soft++;
  });
  expect(new Set(mattes).size).toBeGreaterThan(soft > 0 ? 2 : 1);
});

const isGreen = ([r, g, b]: [number, number, number]) => g > 1.3 * r && g > 1.3 * b;

/** The darkest pixel of the viewer's matte that is still lighter than mid grey, on a coarse grid. */
async function darkestWhite(page: Page, info: { width: number; height: number }) {
  const pixels: { x: number; y: number }[] = [];
  for (let y = 0.3; y < 0.95; y += 0.03) for (let x = 0.05; x < 0.95; x += 0.03) pixels.push({ x: x * info.width, y: y * info.height });
  await expect(page.getByTestId("picture")).toHaveAttribute("aria-busy", "false");
  const shown = await shownAtAll(page, info, pixels);
  let found = { x: 0, y: 0, value: 255 };
  shown.forEach(([value], i) => {
    if (value > 128 && value < found.value) found = { ...pixels[i]!, value };
  });
  return found;
}

/** Asks a worker of the page, over its own messages, for the matte at single pixels in full precision. */
async function workerMattes(page: Page, shot: ListedShot, points: readonly { x: number; y: number }[]): Promise<number[]> {
  const full = await server.json<{ recipe: unknown; plate: { id: string; info: { frames: number; reading: unknown } } }>(
    `/api/shots/${shot.id}`,
  );
  return page.evaluate(
    async ({ recipe, plate, list }) => {
      const url = performance
        .getEntriesByType("resource")
        .map((e) => e.name)
        .find((n) => /key-worker/.test(n))!;
      const worker = new Worker(url, { type: "module" });
      const raw = (value: unknown) => ({ type: "RAW", value });
      const ask = (x: number, y: number) =>
        new Promise<number>((resolve, reject) => {
          const id = `${x}/${y}`;
          const hear = (e: MessageEvent) => {
            if (e.data.id !== id) return;
            worker.removeEventListener("message", hear);
            if (e.data.type === "RAW") resolve((e.data.value as { matte: number }).matte);
            else reject(new Error("the worker refused"));
          };
          worker.addEventListener("message", hear);
          worker.postMessage({
            id,
            type: "APPLY",
            path: ["probe"],
            argumentList: [{ recipe, plate, background: null, frame: 1 }, x, y, 1].map(raw),
          });
        });
      const out: number[] = [];
      for (const p of list) out.push(await ask(p.x, p.y));
      return out;
    },
    {
      recipe: full.recipe,
      plate: { id: full.plate.id, frames: full.plate.info.frames, reading: full.plate.info.reading },
      list: [...points],
    },
  );
}

test("a file comes in through the page, a bad one gets a plain word", async ({ page }, info) => {
  await page.goto(server.address);
  const input = page.getByTestId("import-file");
  const bad = info.outputPath("holiday.mp4");
  writeFileSync(bad, "not a film at all\n".repeat(100));
  await input.setInputFiles(bad);
  await expect(page.getByRole("alert")).toContainText("not a clip that can be read");
  await input.setInputFiles(path.join(root, "demo/footage/pantry.jpg"));
  await expect(page.getByRole("link", { name: /pantry/ })).toBeVisible();
  await expect(page.getByRole("alert")).toHaveCount(0);

  // By path, from the permitted folder; and not from outside of it.
  await page.getByRole("button", { name: "By path" }).click();
  await page.getByRole("textbox", { name: "Path on this machine" }).fill("/etc/passwd");
  await page.getByRole("button", { name: "Bring in", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("permitted folder");
  await page.getByRole("textbox", { name: "Path on this machine" }).fill(path.join(root, "demo/footage/meadow.jpg"));
  await page.getByRole("button", { name: "Bring in", exact: true }).click();
  await expect(page.getByRole("link", { name: /meadow/ })).toBeVisible();

  // A phone's clip, recorded lying, stands upright: its small picture too.
  const lying = info.outputPath("lying.mp4");
  const phone = info.outputPath("phone.mp4");
  execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "color=c=0x11aa22:size=64x36:duration=0.2", lying]);
  turnedClip(lying, phone, 90);
  await input.setInputFiles(phone);
  await expect(page.getByRole("link", { name: /phone/ })).toContainText("36×64");
  const small = page.getByRole("link", { name: /phone/ }).locator("img");
  await expect.poll(() => small.evaluate((e: HTMLImageElement) => e.naturalHeight > e.naturalWidth)).toBe(true);

  // Numbered stills become one sequence.
  const frames: string[] = [];
  for (const n of [1, 2, 3]) {
    const file = info.outputPath(`seq.000${n}.png`);
    execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", `color=c=0x${n}${n}aa22:size=64x36`, "-frames:v", "1", file]);
    frames.push(file);
  }
  await input.setInputFiles(frames);
  await expect(page.getByRole("link", { name: /seq\.%04d/ })).toContainText("3 frames");
});

test("the plate report appears by itself, its findings fly to their place, and auto says what it chose", async ({ page }) => {
  const shot = await open(page, /honey table/);
  await rung(page, "Plate").click();
  const report = page.getByTestId("report");
  await expect(report).toContainText("by school");
  await expect(report).toContainText("bright and even");
  // Fly: the view zooms from the whole frame to the place.
  await page.keyboard.press("f");
  await expect(page.getByText("fit", { exact: true })).toBeVisible();
  await report.getByTitle("Fly there").first().click();
  await expect(page.getByText("fit", { exact: true })).toHaveCount(0);
  await page.keyboard.press("f");

  // Read by a logarithm's numbers, the picture is what they make of its codes; numbers that are none are refused in words.
  await page.keyboard.press("p");
  const at = [0.5 * shot.info.width, 0.1 * shot.info.height] as const;
  await settled(page);
  await expect.poll(async () => (await shownAt(page, shot.info, ...at))[1]).toBeGreaterThan(60);
  const codes = await restingAt(page, shot.info, ...at);
  await page.getByLabel("Curve", { exact: true }).selectOption({ label: "log, by its numbers" });
  const read = (curve: LogCurve) => codes.map((v) => Math.round(255 * Math.min(1, linearToSrgb(logToLinear(curve, v / 255)))));
  const off = async (curve: LogCurve) => Math.max(...(await shownAt(page, shot.info, ...at)).map((v, k) => Math.abs(v - read(curve)[k]!)));
  await expect.poll(() => off(ACESCCT)).toBeLessThanOrEqual(2);
  const numbers = page.getByTestId("log-curve");
  await expect(numbers).toContainText("18 % grey 41.4 %");
  await numbers.getByLabel("base", { exact: true }).fill("0.7");
  await numbers.getByLabel("base", { exact: true }).press("Enter");
  await expect(numbers.getByLabel("base", { exact: true })).toBeFocused();
  await expect.poll(() => off({ ...ACESCCT, base: 0.7 })).toBeLessThanOrEqual(2);
  await expect(numbers).toContainText("do not meet at the cut");
  await numbers.getByLabel("slope", { exact: true }).fill("-1");
  await numbers.getByLabel("slope", { exact: true }).press("Enter");
  await expect(numbers.getByRole("alert")).toContainText("-1: it has to be over 0");
  for (let k = 0; k < 2; k++) await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByLabel("Curve", { exact: true })).toHaveValue("file");
  await expect.poll(async () => (await shownAt(page, shot.info, ...at)).join()).toBe(codes.join());

  await page.getByRole("button", { name: "Propose the whole key" }).click();
  await expect(page.getByTestId("reasons")).toContainText("made from the screen's own pixels");
  await settled(page);
  // The evenness overlay is grey: R = G = B.
  await page.getByRole("radio", { name: "Evenness" }).click();
  await expect.poll(async () => new Set(await shownAt(page, shot.info, 0.5 * shot.info.width, 0.1 * shot.info.height)).size).toBe(1);

  // The levelled plate has an even screen where the plate has a gradient.
  const spread = async () => {
    const greens: number[] = [];
    for (const x of [0.35, 0.5, 0.7, 0.9]) greens.push((await shownAt(page, shot.info, x * shot.info.width, 0.1 * shot.info.height))[1]);
    return Math.max(...greens) - Math.min(...greens);
  };
  await page.keyboard.press("p");
  await expect.poll(spread).toBeGreaterThan(5);
  await rung(page, "Screen").click();
  await page.getByRole("button", { name: "Levelled plate" }).click();
  await expect.poll(spread).toBeLessThan(4);
});

test("why a key was proposed stays told, and what it leaves half open is held along its outline", async ({ page }) => {
  await untouch(/honey table/);
  const shot = await open(page, /honey table/);
  await rung(page, "Plate").click();
  await page.getByRole("button", { name: "Propose the whole key" }).click();
  const reasons = page.getByTestId("reasons");
  await expect(reasons).toContainText("made from the screen's own pixels");
  await settled(page);
  const { proposed } = await server.json<{ proposed: Proposed & { frame: number } }>(`/api/shots/${shot.id}`);
  expect(proposed.frame).toBe(1);
  const n = proposed.notSolved.findIndex((p) => p.kind === "half-open" && p.outline);
  const [, x, y] = /at (\d+), (\d+) stays half open/.exec(proposed.notSolved[n]!.what)!.map(Number) as [number, number, number];
  await page.getByRole("radio", { name: "Matte", exact: true }).click();
  const level = async () => (await shownAt(page, shot.info, x + 0.5, y + 0.5))[0];
  await expect.poll(level).toBeLessThan(250);

  // The list is still there after a look at another step; and so is what was done from it.
  const told = page.getByTestId("not-solved");
  await told.getByRole("button", { name: `Hold ${n + 1}` }).click();
  await expect.poll(level).toBe(255);
  await rung(page, "Bounds").click();
  await expect(page.getByRole("region", { name: "Holdout 1" })).toBeVisible();
  await rung(page, "Plate").click();
  await expect(told.getByRole("button", { name: `Held ${n + 1}` })).toBeDisabled();
  // Once the key is undone, nothing is told of it; and again when it is back.
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(told.getByRole("button", { name: `Hold ${n + 1}` })).toBeEnabled();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(reasons).toHaveCount(0);
  for (let k = 0; k < 2; k++) await page.getByRole("button", { name: "Redo" }).click();
  await expect(told.getByRole("button", { name: `Held ${n + 1}` })).toBeDisabled();
  await settled(page);
  await page.reload();
  await expect(reasons).toContainText("made from the screen's own pixels");
  await expect(told.getByRole("button", { name: `Held ${n + 1}` })).toBeDisabled();
  await page.getByRole("button", { name: /^Log/ }).click();
  const entry = page.getByTestId("log").getByRole("listitem").filter({ hasText: "Whole key proposed" }).first();
  await entry.getByText("why, and what it leaves").click();
  await expect(entry).toContainText("made from the screen's own pixels");
});

test("changes are undone, redone, logged with figures, and survive a reload", async ({ page }) => {
  await open(page, /Veil at the hive/);
  await rung(page, "Matte").click();
  await settled(page);
  const white = page.getByRole("textbox", { name: "White point" });
  const was = await white.inputValue();
  await white.focus();
  await white.press("ArrowDown");
  await white.press("Shift+ArrowDown");
  await settled(page);
  const now = await white.inputValue();
  expect(Number(was) - Number(now)).toBeCloseTo(1.1, 5);
  await page.getByRole("button", { name: "Undo" }).click();
  expect(Number(was) - Number(await white.inputValue())).toBeCloseTo(0.1, 5);
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(white).toHaveValue(now);
  await settled(page);

  // Where the white point begins to work is told as the same matte level by the control and by the chart; it moves along with the point.
  const from = page.getByRole("textbox", { name: "White works from" });
  const chart = page.getByRole("figure", { name: /Histogram of the pull/ });
  expect(Number(await from.inputValue())).toBeLessThan(Number(now));
  await expect(chart).toContainText(`works from ${await from.inputValue()}`);
  await from.fill("70");
  await from.press("Enter");
  await settled(page);
  await expect(chart).toContainText("works from 70.0");
  // It stays under the white point, and the log tells what was set.
  await from.fill("99");
  await from.press("Enter");
  await settled(page);
  const most = await from.inputValue();
  expect(Number(most)).toBeLessThan(Number(now));
  await expect(chart).toContainText(`works from ${most}`);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();

  // Frame and view are kept too.
  await page.getByTestId("strip").focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await page.getByRole("radio", { name: "Stretched" }).click();
  await settled(page);
  await page.waitForTimeout(500);
  await page.reload();
  await expect(page.getByTestId("frame")).toHaveText("3");
  await expect(page.getByRole("radio", { name: "Stretched" })).toHaveAttribute("aria-checked", "true");
  await expect(page.getByRole("textbox", { name: "White point" })).toHaveValue(now);

  await page.getByRole("button", { name: /^Log/ }).click();
  const log = page.getByTestId("log");
  await expect(log).toContainText(`White point ${was} → ${(Number(was) - 0.1).toFixed(1)} %`);
  await expect(log).toContainText(`White works from 70.0 → ${most} %`);
  await expect(log).toContainText("Undo");
  // The change of a whole per cent moved a figure, and the log says from what to what.
  await expect(log.getByRole("listitem").filter({ hasText: `→ ${now} %` })).toContainText(
    /edge loss [\d.]+\s% → [\d.]+\s%|holes [\d\u202f]+\spx → [\d\u202f]+\spx/,
  );

  // Keep, wipe against, restore.
  await page.getByRole("tab", { name: "Versions" }).click();
  await page.getByRole("textbox", { name: "Name of the version" }).fill("Tight");
  await page.getByRole("button", { name: "Keep version" }).click();
  // It is there at once, and has its figures when they are measured.
  const kept = page.getByRole("list", { name: "Versions" }).locator("li").first();
  await expect(kept.getByRole("textbox")).toHaveValue("Tight");
  await expect(kept).toContainText("holes", { timeout: 60_000 });
  await page.getByRole("list", { name: "Versions" }).locator("li").last().getByRole("button", { name: "Restore" }).click();
  await settled(page);
  await expect(page.getByRole("textbox", { name: "White point" })).not.toHaveValue(now);
  await page.getByRole("button", { name: /^Log/ }).click();
  await page.getByRole("tab", { name: "Versions" }).click();
  await page.getByRole("list", { name: "Versions" }).locator("li").first().getByRole("button", { name: "Wipe" }).click();
  await expect(page.getByRole("slider", { name: /Wipe against/ })).toBeVisible();
});

/** The smoker's brass can, and a pocket of the coat, on the first frame. */
const CAN = [
  [322, 508],
  [388, 512],
  [388, 622],
  [330, 625],
] as const;
const POCKET = [
  [738, 458],
  [812, 460],
  [812, 545],
  [740, 545],
] as const;
/** Draws an outline. */
async function drawAround(page: Page, info: ListedShot["info"], corners: readonly (readonly [number, number])[]) {
  for (const [x, y] of corners) {
    const p = await onPage(page, info, x, y);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press("Enter");
}
/** Where the can is in the picture: lifted and tipped by frame 14, and on its way back to the hive. */
function isOnCan(outline: KeyedOutline) {
  for (const [frame, x, y] of [
    [14, 391, 357],
    [18, 378, 440],
    [24, 356, 569],
  ] as const) {
    const points = outlineAt(outline, frame);
    const at = { x: points.reduce((s, p) => s + p.x / points.length, 0), y: points.reduce((s, p) => s + p.y / points.length, 0) };
    expect(Math.hypot(at.x - x, at.y - y), `frame ${frame}: ${at.x.toFixed(0)}, ${at.y.toFixed(0)}`).toBeLessThan(10);
  }
}

test("a holdout follows the smoker through the shot", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  await rung(page, "Bounds").click();
  await settled(page);
  const controls = page.getByRole("complementary");
  const before = await controls.getByRole("button", { name: "Follow it to the end" }).count();
  await controls.getByRole("button", { name: "Draw a holdout" }).click();
  await drawAround(page, shot.info, CAN);
  const card = controls.getByRole("region", { name: "Holdout 1" });
  await expect(card.getByRole("button", { name: "Follow it to the start" })).toBeDisabled();
  await card.getByRole("button", { name: "Follow it to the end" }).click();
  await expect(card.getByRole("button", { name: /^Stop · frame \d+/ })).toBeVisible();
  await expect(card).toContainText("Followed from frame 1 to 24.", { timeout: 60_000 });
  const held = async (name = "Holdout 1") => {
    const { recipe } = await server.json<{ recipe: Recipe }>(VEIL);
    return recipe.bounds.garbage.find((s) => s.name === name);
  };
  await expect.poll(async () => (await held())?.keys.at(-1)?.frame).toBe(24);
  const shape = (await held()) as Shape;
  expect(shape.keys[0]?.frame).toBe(1);
  isOnCan(shape);
  // One change: undone, the shape stands still.
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(card).toContainText("Stands still");
  // Delete takes out what is shown: not where no shape is.
  await rung(page, "Pull").click();
  await page.keyboard.press("Delete");
  await rung(page, "Bounds").click();
  await expect(card).toBeVisible();
  // Two at once: a pocket as well.
  await controls.getByRole("button", { name: "Draw a holdout" }).click();
  await drawAround(page, shot.info, POCKET);
  await controls.getByRole("button", { name: "Follow all to the end" }).click();
  await expect(controls).toContainText("2 of 2 holdouts followed from frame 1 to 24.", { timeout: 60_000 });
  await expect.poll(async () => (await held("Holdout 2"))?.keys.at(-1)?.frame).toBe(24);
  isOnCan((await held()) as Shape);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(controls.getByText("Stands still")).toHaveCount(before + 2);
  for (let k = 0; k < 2; k++) await page.getByRole("button", { name: "Undo" }).click();
  await expect(controls.getByRole("button", { name: "Follow it to the end" })).toHaveCount(before);
});

test("where a pass counts follows the smoker through the shot", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  await rung(page, "Pull").click();
  await settled(page);
  const controls = page.getByRole("complementary");
  await controls.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByLabel("Counts").selectOption("drawn");
  await drawAround(page, shot.info, CAN);
  await page.getByLabel("Combine").selectOption("cut");
  await controls.getByRole("button", { name: "Follow it to the end" }).click();
  await expect(controls.getByTestId("follow")).toContainText("Followed from frame 1 to 24.", { timeout: 60_000 });
  const region = async () => {
    const { recipe } = await server.json<{ recipe: Recipe }>(VEIL);
    return recipe.passes[1]?.region as Extract<Pass["region"], { kind: "drawn" }>;
  };
  await expect.poll(async () => (await region()).keys.at(-1)?.frame).toBe(24);
  isOnCan(await region());
});

test("the probe under a resting pointer reads the frame that is shown, and goes with the pointer", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  const readout = page.getByTestId("probe");
  const linear = async () =>
    /linear(\S+) (\S+) (\S+?)code/
      .exec(((await readout.textContent()) ?? "").replace(/ +/g, " "))
      ?.slice(1)
      .map(Number) ?? [];
  /** Within what the ways to bring chroma to luma's size differ by. */
  const reads = (expected: readonly number[]) =>
    expect
      .poll(async () => {
        const got = await linear();
        return got.length === 3 && Math.max(...got.map((v, k) => Math.abs(v - expected[k]!))) < 0.003;
      })
      .toBe(true);
  await page.getByTestId("strip").focus();
  const screen = await onPage(page, shot.info, 119.5, 120.5);
  await page.mouse.move(screen.x, screen.y);
  // Means of 5 × 5 px around 119, 120 of the decoded planes, by another program: Y'CbCr to light by ITU-R BT.709-6, chroma sited left.
  await reads([0.089, 0.515, 0.123]);
  for (let n = 0; n < 13; n++) await page.keyboard.press("ArrowRight");
  await expect(page.getByTestId("frame")).toHaveText("14");
  await reads([0.076, 0.441, 0.121]);
  // Gone while an answer was on its way: it stays gone.
  const beside = await onPage(page, shot.info, 131, 120);
  await page.mouse.move(beside.x, beside.y);
  await page.getByTestId("frame").hover();
  await settled(page);
  await page.waitForTimeout(1500);
  await expect(readout).toHaveCount(0);
});

test("paint goes with the smoker through the shot", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  const controls = page.getByRole("complementary");
  await rung(page, "Spill").click();
  await settled(page);
  await page.getByRole("radio", { name: "Composite" }).click();
  await settled(page);
  await controls.getByRole("button", { name: "Pick colour" }).click();
  // The sage cuff's green.
  const cuff = await onPage(page, shot.info, 920, 620);
  await page.mouse.click(cuff.x, cuff.y);
  await expect(controls.getByRole("button", { name: "Paint", exact: true })).toHaveAttribute("aria-pressed", "true");
  // Over its brass can, on the first frame, and a dab on the even screen beside it.
  await drag(page, await onPage(page, shot.info, 345, 540), await onPage(page, shot.info, 370, 590));
  await settled(page);
  await expect(controls).toContainText("1 stroke, 1 here");
  const dab = await onPage(page, shot.info, 120, 120);
  await page.mouse.click(dab.x, dab.y);
  await expect(controls).toContainText("2 strokes, 2 here");
  await expect(controls.getByRole("button", { name: /^Follow .* to the start/ })).toBeDisabled();
  await controls.getByRole("button", { name: /^Follow .* to the end/ }).click();
  await expect(controls).toContainText(
    /1 of 2 strokes followed from frame 1 to 24\. 1 lost on frame [23]: it is too even to be followed\./,
    {
      timeout: 60_000,
    },
  );
  const saved = async () => (await server.json<{ recipe: Recipe }>(VEIL)).recipe.paint;
  await expect.poll(async () => (await saved())[0]?.last).toBe(24);
  const [stroke, lost] = await saved();
  expect(lost?.last).toBeLessThan(3);
  // Where the can is in the picture, as in the test of a holdout: its middle was at 357, 567.
  for (const [frame, x, y] of [
    [14, 391, 357],
    [18, 378, 440],
    [24, 356, 569],
  ] as const) {
    const at = movedBy(strokeMotion(stroke!, frame), { x: 357, y: 567 });
    expect(Math.hypot(at.x - x, at.y - y), `frame ${frame}: ${at.x.toFixed(0)}, ${at.y.toFixed(0)}`).toBeLessThan(12);
  }
  // It shows there, and no longer where it was painted.
  await page.getByTestId("strip").focus();
  for (let n = 0; n < 13; n++) await page.keyboard.press("ArrowRight");
  await expect(page.getByTestId("frame")).toHaveText("14");
  await expect(controls).toContainText("2 strokes, 1 here");
  const middle = movedBy(strokeMotion(stroke!, 14), { x: 357.5, y: 565 });
  const shown = async () => restingAt(page, shot.info, middle.x, middle.y);
  const painted = await shown();
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  await expect(controls).toContainText("2 strokes, 0 here");
  const bare = await shown();
  expect(Math.max(...painted.map((v, k) => Math.abs(v - bare[k]!)))).toBeGreaterThan(8);
});

test("pulls, passes, a holdout and the light wrap do what they say, in pixels and figures", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  const { width: w, height: h } = shot.info;
  const at = (x: number, y: number) => onPage(page, shot.info, x * w, y * h);
  const soft = async () => Number(/soft ([\d.]+)/.exec((await page.getByTestId("figure-Pull").textContent()) ?? "")![1]);
  const pulled = () => shownAt(page, shot.info, 0.05 * w, 0.5 * h);
  await rung(page, "Pull").click();
  await settled(page);
  const before = await soft();

  // What the lens and the camera did is taken out of the matte's copy: each changes the matte, and back at none it is as it was.
  const drawn = () => page.getByTestId("picture").evaluate((c: HTMLCanvasElement) => c.toDataURL());
  await expect(page.getByTestId("picture")).toHaveAttribute("aria-busy", "false");
  const asWas = await drawn();
  for (const [control, value] of [
    ["Undo sharpening", "150"],
    ["Red fringe", "3"],
    ["Blue fringe", "-3"],
  ] as const) {
    const field = page.getByRole("textbox", { name: control, exact: true });
    await field.fill(value);
    await field.press("Enter");
    await settled(page);
    await expect.poll(drawn).not.toBe(asWas);
    await field.fill("0");
    await field.press("Enter");
    await settled(page);
    await expect.poll(drawn).toBe(asWas);
  }

  // Luminance between two levels: the bright screen is no longer empty, and the soft band grows.
  await page.getByLabel("Method").selectOption("luminance");
  await settled(page);
  await expect.poll(async () => (await pulled())[0]).toBeGreaterThan(60);
  expect(await soft()).not.toBe(before);

  // Colour ranges: nothing to pull by until the screen is sampled; then the sampled place is empty.
  await page.getByLabel("Method").selectOption("colour-ranges");
  await expect(page.getByText("No range yet", { exact: false }).first()).toBeVisible();
  await page.getByRole("button", { name: "Add a sample" }).click();
  await drag(page, await at(0.02, 0.4), await at(0.12, 0.6));
  await settled(page);
  await expect(page.getByRole("complementary")).toContainText(/\+ hue 1[12]\d° ± \d+°/);
  await expect.poll(async () => (await pulled())[0]).toBeLessThan(60);

  // Back, and a second pass beside the first: off, it changes nothing; on, it fills what the first left open.
  await page.getByLabel("Method").selectOption("unmix");
  await settled(page);
  expect(await soft()).toBe(before);
  const holes = await figure(page, "Matte");
  const controls = page.getByRole("complementary");
  await controls.getByRole("button", { name: "Add", exact: true }).click();
  await settled(page);
  await page.getByLabel("Method").selectOption("luminance");
  await settled(page);
  const filled = await figure(page, "Matte");
  expect(filled).not.toBe(holes);
  await controls.getByRole("checkbox", { name: "Pass 2 detail on" }).uncheck();
  await settled(page);
  expect(await figure(page, "Matte")).toBe(holes);
  await controls.getByRole("button", { name: "Remove the pass" }).click();
  await settled(page);
  await expect(controls.getByRole("checkbox")).toHaveCount(0);

  // A holdout where the screen shows: the matte is solid inside it, and as it was beside it.
  await rung(page, "Matte").click();
  await expect.poll(async () => (await shownAt(page, shot.info, 0.365 * w, 0.34 * h))[0]).toBe(0);
  await rung(page, "Bounds").click();
  await controls.getByRole("button", { name: "Draw a holdout" }).click();
  for (const [x, y] of [
    [0.34, 0.28],
    [0.39, 0.28],
    [0.39, 0.4],
    [0.34, 0.4],
  ] as const) {
    const p = await at(x, y);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press("Enter");
  await settled(page);
  await rung(page, "Matte").click();
  await expect.poll(async () => (await shownAt(page, shot.info, 0.365 * w, 0.34 * h))[0]).toBe(255);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  await expect.poll(async () => (await shownAt(page, shot.info, 0.365 * w, 0.34 * h))[0]).toBe(0);

  // The background's light on the rim: brighter just inside an edge before the bright sky, the same in the middle.
  await rung(page, "Scene").click();
  await settled(page);
  const middle = () => restingAt(page, shot.info, 0.55 * w, 0.8 * h);
  const rims = async () => {
    await expect(page.getByTestId("picture")).toHaveAttribute("aria-busy", "false");
    const across = Array.from({ length: 175 }, (_, i) => ({ x: (0.2 + 0.004 * i) * w, y: 0.62 * h }));
    return (await shownAtAll(page, shot.info, across)).flat().reduce((sum, v) => sum + v, 0);
  };
  const [plain, inner] = [await rims(), await middle()];
  const strength = page.getByRole("textbox", { name: "Strength" });
  await strength.fill("100");
  await strength.press("Enter");
  const reach = page.getByRole("textbox", { name: "Reach", exact: true });
  await reach.fill("40");
  await reach.press("Enter");
  await settled(page);
  await expect.poll(rims).toBeGreaterThan(plain + 100);
  expect(await middle()).toEqual(inner);
  await strength.fill("0");
  await strength.press("Enter");
  await settled(page);
});

test("everything is in the palette and on keys, and nothing serious stands in a screen reader's way", async ({ page }) => {
  await open(page, /Veil at the hive/);
  await settled(page);
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder("What do you want to do?").fill("bright");
  await page.getByPlaceholder("What do you want to do?").fill("Go to Spill");
  await page.keyboard.press("Enter");
  await expect(rung(page, "Spill")).toHaveAttribute("aria-current", "step");
  await page.keyboard.press("m");
  await expect(page.getByRole("radio", { name: "Matte", exact: true })).toHaveAttribute("aria-checked", "true");

  // Letters are keys of the page on a slider and in a number too, which holds what was typed before; a number is written over after Enter.
  const chosen = (view: string) => expect(page.getByRole("radio", { name: view, exact: true })).toHaveAttribute("aria-checked", "true");
  await rung(page, "Matte").click();
  await page.getByRole("slider", { name: "White point", exact: true }).focus();
  await page.keyboard.press("x");
  await chosen("Stretched");
  const white = page.getByRole("textbox", { name: "White point", exact: true });
  await white.click();
  await page.keyboard.type("83");
  await page.keyboard.press("m");
  await chosen("Matte");
  await expect(white).toHaveValue("83.0");
  for (const value of ["82", "81"]) {
    await page.keyboard.type(value);
    await page.keyboard.press("Enter");
    await expect(white).toHaveValue(`${value}.0`);
  }
  await white.blur();
  // A list keeps its choice, and a note its own undoing.
  await rung(page, "Spill").click();
  const limit = page.getByLabel("Limit");
  const choice = await limit.inputValue();
  await limit.focus();
  await page.keyboard.press("m");
  await chosen("Matte");
  await page.keyboard.press("l");
  const note = page.getByLabel("A note for the log");
  await note.click();
  expect(await limit.inputValue()).toBe(choice);
  await page.keyboard.type("thin");
  await page.keyboard.press("Control+z");
  await expect(note).not.toHaveValue("thin");
  await page.keyboard.press("Escape");
  await rung(page, "Matte").click();
  await expect(white).toHaveValue("81.0");
  // Frames to deliver are held to those there are when they are set, not while they are typed.
  await rung(page, "Deliver").click();
  const last = page.getByRole("textbox", { name: "to", exact: true });
  for (const [typed, frames] of [
    ["12", 12],
    ["99", 24],
  ] as const) {
    await last.fill(typed);
    await expect(last).toHaveValue(typed);
    await last.press("Enter");
    await expect(page.getByRole("complementary").getByRole("button", { name: `Deliver ${frames} frames` })).toBeVisible();
  }
  await last.press("ArrowDown");
  await expect(page.getByRole("complementary").getByRole("button", { name: "Deliver 23 frames" })).toBeVisible();
  await last.blur();

  for (const key of ["1", "2", "3", "4", "5", "6", "7", "8", "9", "0"]) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
    const { violations } = await new AxeBuilder({ page }).analyze();
    const serious = violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => `${v.id}: ${v.nodes[0]?.html}`);
    expect(serious, `step ${key}`).toEqual([]);
  }
  await page.goto(server.address);
  await expect(page.getByRole("heading", { name: "Linden Hill" })).toBeVisible();
  expect(
    (await new AxeBuilder({ page }).analyze()).violations
      .filter((v) => v.impact === "serious" || v.impact === "critical")
      .map((v) => `${v.id}: ${v.nodes[0]?.html}`),
  ).toEqual([]);
});

test("strokes, paint, keyed shapes and neighbouring frames do what they say", async ({ page }, info) => {
  const shot = await open(page, /Veil at the hive/);
  const { width: w, height: h } = shot.info;
  const at = (x: number, y: number) => onPage(page, shot.info, x * w, y * h);
  const controls = page.getByRole("complementary");
  await page.getByTestId("strip").focus();
  await page.keyboard.press("Home");
  await expect(page.getByTestId("frame")).toHaveText("1");
  await settled(page);

  // A stroke over the screen counts with the box; the sampled colour moves a little, and the stroke is listed.
  await rung(page, "Screen").click();
  const linear = () => controls.getByText(/^0\.\d{4} {2}0\.\d{4}/).textContent();
  const boxOnly = await linear();
  await controls.getByRole("button", { name: "Add a stroke" }).click();
  await drag(page, await at(0.85, 0.15), await at(0.97, 0.85));
  await settled(page);
  await expect(controls).toContainText(/30×30 px, frame 1; stroke \d+ px wide, frame 1/);
  expect(await linear()).not.toBe(boxOnly);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  expect(await linear()).toBe(boxOnly);

  // A clean plate from the whole shot is brought in and chosen.
  await controls.getByRole("button", { name: "Make one from the whole shot" }).click();
  await expect(controls.getByLabel("Read the screen from")).toHaveValue(/^[0-9a-f]{64}$/);
  await settled(page);
  await controls.getByRole("button", { name: "Clean plate", exact: true }).click();
  // Where the subject stands, screen shows.
  await expect.poll(async () => isGreen(await shownAt(page, shot.info, 0.55 * w, 0.75 * h))).toBe(true);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);

  // Paint takes the jacket's colour to the table's and keeps its light; rubbing out takes the paint away, not the jacket.
  await rung(page, "Spill").click();
  await settled(page);
  await page.getByRole("radio", { name: "Composite" }).click();
  await settled(page);
  const chest = () => shownAt(page, shot.info, 0.5 * w, 0.8 * h);
  const bare = await restingAt(page, shot.info, 0.5 * w, 0.8 * h);
  await controls.getByRole("button", { name: "Pick colour" }).click();
  const table = await at(0.12, 0.93);
  await page.mouse.click(table.x, table.y);
  await expect(controls.getByRole("button", { name: "Paint", exact: true })).toHaveAttribute("aria-pressed", "true");
  await drag(page, await at(0.47, 0.8), await at(0.53, 0.8));
  await settled(page);
  const warmth = ([r, , b]: readonly number[]) => r! / b!;
  await expect.poll(async () => warmth(await chest())).toBeGreaterThan(1.15 * warmth(bare));
  const light = ([r, g, b]: readonly number[]) => 0.2126 * r! ** 2.2 + 0.7152 * g! ** 2.2 + 0.0722 * b! ** 2.2;
  expect(Math.abs(light(await restingAt(page, shot.info, 0.5 * w, 0.8 * h)) / light(bare) - 1)).toBeLessThan(0.05);
  await controls.getByRole("button", { name: "Rub out" }).click();
  await drag(page, await at(0.45, 0.8), await at(0.55, 0.8));
  await settled(page);
  await expect.poll(async () => Math.abs((await chest())[2] - bare[2])).toBeLessThan(2);
  await expect(controls).toContainText("2 strokes");
  await controls.getByRole("button", { name: "Clear the layer" }).click();
  await page.keyboard.press("Escape");
  await settled(page);

  // Measured spill sets amount and reach as one change.
  await controls.getByRole("button", { name: "Measure", exact: true }).click();
  await expect(controls.getByRole("textbox", { name: "Reach to the cool side" })).not.toHaveValue("180.0");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(controls.getByRole("textbox", { name: "Reach to the cool side" })).toHaveValue("180.0");
  await settled(page);

  // Keyed on two frames the garbage shape moves between them; its bars show on the strip.
  await rung(page, "Bounds").click();
  await controls.getByRole("button", { name: "Key this frame" }).click();
  await settled(page);
  await page.getByTestId("strip").focus();
  for (let n = 0; n < 4; n++) await page.keyboard.press("ArrowRight");
  await expect(page.getByTestId("frame")).toHaveText("5");
  await settled(page);
  await controls.getByRole("region", { name: "Wide" }).click({ position: { x: 5, y: 5 } });
  const corner = await at(0.703, 0.055);
  await drag(page, corner, { x: corner.x + 100, y: corner.y });
  await settled(page);
  await expect(controls.getByRole("button", { name: /^Go to the key on frame/ })).toHaveCount(2);
  // What was thrown away beside the corner is kept on frame 5, half of it on frame 3.
  const kept = async () => (await shownAt(page, shot.info, 0.76 * w, 0.1 * h))[1];
  await expect.poll(kept).toBeGreaterThan(120);
  await controls.getByRole("button", { name: "Go to the key on frame 1" }).click();
  await expect.poll(kept).toBeLessThan(60);
  await settled(page);

  // The shape leaves as SVG, a group for each key, and comes back as it left.
  const [svg] = await Promise.all([page.waitForEvent("download"), controls.getByRole("button", { name: "Save as SVG" }).click()]);
  const text = readFileSync((await svg.path())!, "utf8");
  expect(text.match(/data-frame="\d+"/g)).toEqual(['data-frame="1"', 'data-frame="5"']);
  const file = info.outputPath("shapes.svg");
  writeFileSync(file, text);
  await page.getByTestId("shape-file").setInputFiles(file);
  await expect(controls.getByRole("region", { name: "Wide" })).toHaveCount(2);
  await settled(page);
  const { recipe } = await server.json<{ recipe: { bounds: { garbage: { keys: unknown; points: unknown }[] } } }>(`/api/shots/${shot.id}`);
  expect(recipe.bounds.garbage).toHaveLength(2);
  expect(text.match(/<g id=/g)).toHaveLength(1);
  writeFileSync(file, "<svg><path d='nothing'/></svg>");
  await page.getByTestId("shape-file").setInputFiles(file);
  await expect(page.getByText(/path data breaks off/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(controls.getByRole("region", { name: "Wide" })).toHaveCount(1);
  await settled(page);

  // Neighbouring frames: steadying asks for them and changes the matte's greys.
  await rung(page, "Matte").click();
  await settled(page);
  // With white at 100 % the greys near solid count as holes, and steadying moves them.
  const white = controls.getByRole("textbox", { name: "White point", exact: true });
  await white.fill("100");
  await white.press("Enter");
  await settled(page);
  const holes = await figure(page, "Matte");
  const steady = controls.getByRole("textbox", { name: "Steady still edges" });
  await steady.fill("100");
  await steady.press("Enter");
  await settled(page);
  await expect.poll(async () => figure(page, "Matte")).not.toBe(holes);
});

test("findings name what is wrong, fly there, try their remedy as one change, and can be dismissed", async ({ page }) => {
  const shot = await open(page, /Veil at the hive/);
  const { width: w, height: h } = shot.info;
  await page.getByTestId("strip").focus();
  await page.keyboard.press("Home");
  await settled(page);
  const controls = page.getByRole("complementary");

  // Spoil the spill treatment: the finding names it, in the list and in number on the rung.
  await rung(page, "Spill").click();
  await controls.getByLabel("Limit").selectOption("minimum");
  await settled(page);
  const keepOwn = controls.getByRole("textbox", { name: "Keep surfaces' own colour" });
  await keepOwn.fill("0");
  await keepOwn.press("Enter");
  await settled(page);
  await rung(page, "Proof").click();
  const found = page.getByTestId("findings");
  const card = found.locator("li[data-kind=over-corrected]");
  await expect(card).toContainText("Spill treatment went too far");
  await expect(found).toHaveAttribute("aria-busy", "false");
  const count = await found.locator("li[data-kind]").count();
  await expect(page.getByTestId("figure-Proof")).toHaveText(count === 1 ? "1 finding" : `${count} findings`);

  // It flies there: the frame no longer fits the viewer, and the place lies within the frame.
  await card.getByRole("button", { name: /Spill treatment/ }).click();
  await expect(page.getByText(/^fit$/)).toHaveCount(0);
  const view = (await server.json<{ view: { centerX: number; centerY: number; zoom: number } }>(`/api/shots/${shot.id}`)).view;
  await expect.poll(async () => (await server.json<{ view: { zoom: number } }>(`/api/shots/${shot.id}`)).view.zoom).toBeGreaterThan(0);
  expect(view.centerX).toBeLessThan(w);
  expect(view.centerY).toBeLessThan(h);

  // Trying the remedy mends it, in one step that undo takes back.
  await card.getByRole("button", { name: "Try it" }).click();
  await expect(card).toHaveCount(0);
  await settled(page);
  await page.getByRole("button", { name: /^Log/ }).click();
  await expect(page.getByTestId("log")).toContainText("Tried: Let surfaces keep their own colour");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(card).toBeVisible();

  // Dismissed with a note it leaves the list and the count, survives a reload, and can be taken back.
  await card.getByRole("button", { name: "Dismiss" }).click();
  await card.getByLabel("Why it may stay").fill("night scene, wanted");
  await card.getByRole("button", { name: "Dismiss" }).click();
  await expect(card).toHaveCount(0);
  await settled(page);
  await page.reload();
  await expect(page.getByTestId("findings")).toContainText("over-corrected dismissed: night scene, wanted");
  await page.getByRole("button", { name: "Take back" }).click();
  await card.getByRole("button", { name: "Try it" }).click();
  await expect(card).toHaveCount(0);
  await settled(page);
});

test("a bracket shows variants with figures, proposes a knee, sets what is chosen and leaves no trace when cancelled", async ({ page }) => {
  await open(page, /Veil at the hive/);
  await rung(page, "Matte").click();
  await settled(page);
  const white = page.getByRole("textbox", { name: "White point" });
  const was = await white.inputValue();
  const saved = await server.json<{ revision: number }>("/api/shots/1");
  await page.getByRole("button", { name: "Bracket White point" }).click();
  const bracket = page.getByTestId("bracket");
  const cards = bracket.getByRole("button", { name: /^\d: / });
  await expect(cards).toHaveCount(5);
  await expect(bracket.getByText(/^Proposed: [^;]+; [a-z]|^The figures hardly/)).toBeVisible();
  // They differ from the exact ones beside the steps, and it says why.
  await expect(bracket).toContainText("figures at 1/3 size");
  // A lower white point closes holes and costs edge: from right to left the figures say so, and so do the pictures.
  const texts = await cards.allTextContents();
  const holes = texts.map((t) => Number(/holes ([\d\s\u202f]+) px/.exec(t)![1]!.replace(/[\s\u202f]/g, "")));
  const loss = texts.map((t) => Number(/edge loss ([\d.]+)/.exec(t)![1]));
  expect(holes[0]).toBeLessThan(holes[4]!);
  expect(loss[0]).toBeGreaterThan(loss[4]!);
  // Figures come from a worker of their own, and may be there before the pictures.
  await expect(bracket).toContainText(/ · [\d.]+ s/);
  await expect(bracket).not.toContainText("sharpening");
  const light = await bracket.locator("canvas").evaluateAll((list) =>
    (list as HTMLCanvasElement[]).map((c) => {
      const { data } = c.getContext("2d")!.getImageData(0, 0, c.width, c.height);
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += data[i]!;
      return sum / (data.length / 4);
    }),
  );
  expect(light[0]).toBeGreaterThan(light[4]! + 1);
  await expect(cards.nth(2)).toContainText("now");

  // Cancelled, nothing has happened.
  await page.keyboard.press("Escape");
  await expect(bracket).toHaveCount(0);
  await expect(white).toHaveValue(was);
  expect((await server.json<{ revision: number }>("/api/shots/1")).revision).toBe(saved.revision);

  // Two controls at once; the number key chooses, as one change that undo takes back.
  await page.getByRole("button", { name: "Bracket White point" }).click();
  await bracket.getByLabel("And a second control").selectOption("Black point");
  await expect(cards).toHaveCount(9);
  await bracket.locator("h2").click();
  await page.keyboard.press("4");
  await expect(bracket).toHaveCount(0);
  await settled(page);
  const chosen = await white.inputValue();
  const black = await page.getByRole("textbox", { name: "Black point" }).inputValue();
  expect(Number(chosen)).toBeLessThan(Number(was));
  await page.getByRole("button", { name: /^Log/ }).click();
  await expect(page.getByTestId("log")).toContainText(`White point and Black point ${was} % · `);
  await expect(page.getByTestId("log")).toContainText(`→ ${chosen} % · ${black} %, from a bracket`);
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(white).toHaveValue(was);
  await settled(page);
});

test("the honey table: a proposal tells of lids that mirror the screen, and glossy rims are closed or left", async ({ page }) => {
  await untouch(/honey table/);
  await open(page, /honey table/);
  await rung(page, "Plate").click();
  await page.getByRole("button", { name: "Propose the whole key" }).click();
  const told = page.getByText(/places? stays? half open inside the subject/);
  await expect(told).toBeVisible({ timeout: 60_000 });
  // Its picture comes from the worker that proposed it, and is what the other draws whenever it is looked at again.
  const picture = page.getByTestId("picture");
  const shown = () => picture.evaluate((c: HTMLCanvasElement) => c.toDataURL());
  await expect(picture).toHaveAttribute("aria-busy", "false", { timeout: 60_000 });
  const first = await shown();
  await settled(page);
  await page.keyboard.press("p");
  await expect.poll(shown).not.toBe(first);
  await page.keyboard.press("c");
  await expect.poll(shown).toBe(first);
  await page.getByRole("button", { name: "Show 1" }).click();
  await rung(page, "Bounds").click();
  const glossy = page.getByRole("textbox", { name: "Close glossy rims" });
  await expect(glossy).toHaveValue("29.0");
  const holes = await figure(page, "Matte");
  await glossy.fill("0");
  await glossy.press("Enter");
  await settled(page);
  expect(await figure(page, "Matte")).toBeGreaterThan(holes + 500);
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
  expect(await figure(page, "Matte")).toBe(holes);
});
