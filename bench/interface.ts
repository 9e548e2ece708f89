/**
 * How long the browser takes at 1920×1080: from an imported plate to its report, from the hand to the picture. Drives the
 * built application in headless Chromium. Run: npm run bench:interface (after npm run build)
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { BenchServer, root } from "../tests/e2e/bench-server";

const server = new BenchServer(4473);
server.seed();
await server.start();
const folder = mkdtempSync(path.join(os.tmpdir(), "sieve-interface-"));
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu"],
});

/** What the page notes down: when the viewer was painted, and tasks that held its main thread for over 50 ms. */
interface Notes {
  painted: number[];
  long: { start: number; ms: number }[];
}
declare global {
  interface Window {
    notes: Notes;
  }
}
async function newPage(): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.addInitScript(() => {
    const notes: Notes = { painted: [], long: [] };
    window.notes = notes;
    const draw = CanvasRenderingContext2D.prototype.drawImage as (...a: unknown[]) => void;
    CanvasRenderingContext2D.prototype.drawImage = function (this: CanvasRenderingContext2D, ...a: unknown[]) {
      draw.apply(this, a);
      if (this.canvas.dataset.testid === "picture") notes.painted.push(performance.now());
    } as typeof CanvasRenderingContext2D.prototype.drawImage;
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) notes.long.push({ start: e.startTime, ms: e.duration });
    }).observe({ type: "longtask", buffered: true });
  });
  return page;
}
const now = (page: Page) => page.evaluate(() => performance.now());
const longest = (page: Page, from: number) =>
  page.evaluate((t) => Math.max(0, ...window.notes.long.filter((l) => l.start >= t).map((l) => l.ms)), from);
const median = (v: number[]) => v.sort((a, b) => a - b)[v.length >> 1] ?? Number.NaN;
const say = (what: string, figure: string) => console.log(`${what.padEnd(64)} ${figure}`);

try {
  // A 1080p plate: the demo's table enlarged, with grain.
  const file = path.join(folder, "table-1080.png");
  const filter = "scale=1920:1080:force_original_aspect_ratio=increase,crop=1920:1080,noise=alls=6:allf=t";
  execFileSync("ffmpeg", ["-v", "error", "-i", path.join(root, "demo/footage/lh-020-honey-table.png"), "-vf", filter, file]);

  const reports: number[] = [];
  const busyReports: number[] = [];
  const shown: number[] = [];
  const pans: number[] = [];
  const tasks: number[] = [];
  let shot = 0;
  for (let round = 0; round < 10; round++) {
    const page = await newPage();
    const media = await server.json<{ id: string }>(`/api/media?name=table-${round}.png`, { method: "POST", body: readFileSync(file) });
    const made = await server.json<{ id: number }>("/api/jobs/1/shots", {
      method: "POST",
      body: JSON.stringify({ name: `Table ${round}`, plateId: media.id }),
      headers: { "content-type": "application/json" },
    });
    shot = made.id;
    // As after an import: from the list of shots to the bench.
    await page.goto(server.address, { waitUntil: "networkidle" });
    await page.getByRole("link", { name: `Table ${round}` }).click();
    await page.waitForURL(/shots/);
    await page.waitForFunction(() => window.notes.painted.length > 0);
    shown.push(await now(page));
    if (round % 2 === 0) {
      await page.getByTestId("report").waitFor();
      reports.push(await now(page));
      await page.context().close();
      continue;
    }
    // While it measures, the viewer is panned, and must answer.
    const box = (await page.getByTestId("viewer").boundingBox())!;
    await page.keyboard.press("1");
    await page.mouse.move(box.x + 300, box.y + 300);
    await page.mouse.down();
    let step = 0;
    while (!(await page.getByTestId("report").isVisible()) && step < 400) {
      const before = await now(page);
      await page.mouse.move(box.x + 301 + (step % 40), box.y + 300);
      const painted = await page.waitForFunction((t) => window.notes.painted.find((p) => p > t), before, { polling: 4 });
      pans.push((await painted.jsonValue())! - before);
      step++;
      await page.waitForTimeout(30);
    }
    await page.mouse.up();
    busyReports.push(await now(page));
    tasks.push(await longest(page, 0));
    await page.context().close();
  }
  say(
    "report of an imported 1080p plate, from opening its page",
    `median ${(median(reports) / 1000).toFixed(2)} s, all ${reports.map((r) => (r / 1000).toFixed(2)).join(" ")}`,
  );
  say("the same while its viewer is panned without a pause", `median ${(median(busyReports) / 1000).toFixed(2)} s`);
  say("its picture, from opening its page", `median ${(median(shown) / 1000).toFixed(2)} s`);
  say(
    "viewer panned meanwhile, 25 moves a second: pointer to picture",
    `median ${median(pans).toFixed(0)} ms, longest ${Math.max(...pans).toFixed(0)} ms`,
  );
  say("longest task on the main thread meanwhile", `${Math.max(...tasks).toFixed(0)} ms`);

  // The key proposed: asked for as soon as the report is there, and after looking at it. On shots that nothing was done to.
  for (const [k, rest] of [0, 8].entries()) {
    const page = await newPage();
    await page.goto(`${server.address}/shots/${shot - 1 - k}`);
    await page.getByTestId("report").waitFor();
    await page.waitForTimeout(1000 * rest);
    const asked = await now(page);
    await page.getByRole("button", { name: "Propose the whole key" }).click();
    await page.getByTestId("reasons").waitFor({ timeout: 60_000 });
    const told = await now(page);
    await page.getByTestId("picture").and(page.locator("[aria-busy=false]")).waitFor({ timeout: 60_000 });
    const seconds = (t: number) => `${((t - asked) / 1000).toFixed(2)} s`;
    say(`key proposed, ${rest} s after the report`, `told in ${seconds(told)}, its picture in ${seconds(await now(page))}`);
    await page.context().close();
  }

  // From the hand to the picture, on the same plate with the proposed key, whole frame in view.
  const page = await newPage();
  await page.goto(`${server.address}/shots/${shot}`);
  const rung = (step: string) => page.getByRole("navigation", { name: "Steps" }).getByRole("button", { name: new RegExp(`^${step}`) });
  await rung("Plate").click();
  await page.getByRole("button", { name: "Propose the whole key" }).click();
  await page.getByTestId("reasons").waitFor({ timeout: 60_000 });
  const calm = async () => {
    await page.waitForTimeout(300);
    await page.waitForFunction(() => document.querySelector("nav[aria-label=Steps]")?.getAttribute("aria-busy") === "false");
    await page.waitForTimeout(300);
  };
  await calm();
  await page.keyboard.press("f");
  for (const [step, control, view, what] of [
    ["Matte", "White point", "Matte", "white point dragged, matte in view"],
    ["Matte", "White point", "Composite", "white point dragged, composite in view"],
    ["Pull", "Weight", "Matte", "weight of the pull dragged, matte in view"],
  ] as const) {
    await rung(step).click();
    await page.getByRole("radio", { name: view, exact: true }).click();
    await calm();
    const thumb = (await page
      .getByRole("slider", { name: new RegExp(`^${control}`) })
      .first()
      .boundingBox())!;
    await page.mouse.move(thumb.x + thumb.width / 2, thumb.y + thumb.height / 2);
    await page.mouse.down();
    const from = await now(page);
    const took: number[] = [];
    for (let k = 1; k <= 40; k++) {
      const before = await now(page);
      await page.mouse.move(thumb.x + thumb.width / 2 - 2 * (20 - Math.abs(20 - k)), thumb.y + thumb.height / 2);
      const painted = await page
        .waitForFunction((t) => window.notes.painted.find((p) => p > t), before, { polling: 4, timeout: 3000 })
        .catch(() => null);
      if (painted) took.push((await painted.jsonValue())! - before);
    }
    const task = await longest(page, from);
    await page.mouse.up();
    say(what, `median ${median(took).toFixed(0)} ms of ${took.length}, longest task on the main thread ${task.toFixed(0)} ms`);
    await calm();
    await page.keyboard.press("Control+z");
    await calm();
  }

  // A bracket of five, on the same 1080p plate and on the 720p demo shot: until every variant is there with its figures.
  for (const [name, id] of [
    ["1080p plate", shot],
    ["720p clip", 1],
  ] as const) {
    await page.goto(`${server.address}/shots/${id}`);
    await rung("Matte").click();
    await page.getByRole("radio", { name: "Matte", exact: true }).click();
    await calm();
    await page
      .getByTestId("figure-Proof")
      .filter({ hasText: /found|finding/ })
      .waitFor({ timeout: 60_000 });
    const [took, sharp]: [number[], number[]] = [[], []];
    for (let k = 0; k < 5; k++) {
      await page.getByRole("button", { name: "Bracket White point" }).click();
      const text = await page.getByText(/^at \d+, \d+ · [\d.]+ s(?!, sharpening)/).textContent({ timeout: 60_000 });
      took.push(Number(/· ([\d.]+) s/.exec(text ?? "")?.[1]));
      sharp.push(Number(/full size ([\d.]+) s/.exec(text ?? "")?.[1] ?? took.at(-1)));
      await page.keyboard.press("Escape");
    }
    say(
      `bracket of five, ${name}`,
      `first ${took[0]} s (full size ${sharp[0]} s), median ${median(took).toFixed(1)} s (${median(sharp).toFixed(1)} s)`,
    );
  }
} finally {
  await browser.close();
  await server.remove();
  rmSync(folder, { recursive: true, force: true });
}
