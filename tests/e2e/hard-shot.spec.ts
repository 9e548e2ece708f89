import { readFileSync } from "node:fs";
import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { BenchServer } from "./bench-server";
import { drag, figure, onPage, restingAt, settled, shownAt } from "./picture";

/** What a hard shot is brought home with: comparing, probing, several passes, close bounds, the whole shot, the log. */
const server = new BenchServer(4476);
const VEIL = "/api/shots/1";
const HONEY = "/api/shots/2";
const frame = { width: 1280, height: 720 };
let seeded: Record<string, unknown>;
let looked: object;
test.beforeAll(async () => {
  server.seed();
  await server.start();
  const shot = await server.json<{ recipe: Record<string, unknown>; view: object }>(VEIL);
  seeded = shot.recipe;
  looked = shot.view;
});
test.beforeEach(async () => {
  await server.take(VEIL, seeded);
  // After what the page before sent on its way out.
  await new Promise((r) => setTimeout(r, 1000));
  const put = { method: "PUT", body: JSON.stringify(looked), headers: { "content-type": "application/json" } };
  expect((await server.fetch(`${VEIL}/view`, put)).ok).toBe(true);
});
test.afterAll(() => server.remove());

const rung = (page: Page, step: string) =>
  page.getByRole("navigation", { name: "Steps" }).getByRole("button", { name: new RegExp(`^${step}`) });

async function open(page: Page, step: string): Promise<void> {
  await page.goto(server.address);
  await page.getByRole("link", { name: /Veil at the hive/ }).click();
  await rung(page, step).click();
  await settled(page);
}

async function set(page: Page, control: string, value: string): Promise<void> {
  const field = page.getByRole("complementary").getByRole("textbox", { name: control, exact: true });
  await field.fill(value);
  await field.press("Enter");
  await settled(page);
}

async function noSeriousIssue(page: Page, where: string): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => `${v.id}: ${v.nodes[0]?.html}`);
  expect(serious, where).toEqual([]);
}

test("a version is compared by wipe, difference and blink; four views, the loupe, the stretch and probes tell what is there", async ({
  page,
}) => {
  await open(page, "Matte");
  const chest = [0.5 * frame.width, 0.8 * frame.height] as const;
  const corner = [0.95 * frame.width, 0.1 * frame.height] as const;
  await page.keyboard.press("k");
  await expect(page.getByRole("button", { name: /Log · version \d/ })).toBeVisible();
  // From now on the matte is white only where the pull is far over it: the version's chest is white, the present one's grey.
  await set(page, "Gamma", "0.2");
  await set(page, "White point", "100");
  await page.keyboard.press("m");
  await page.getByTestId("viewer").click({ position: { x: 5, y: 5 } });

  // The difference is dark where both are empty, and shows where they differ.
  await page.keyboard.press("y");
  await expect(page.getByTestId("compared")).toContainText("Difference from version");
  await settled(page);
  expect((await restingAt(page, frame, ...corner))[0]).toBe(0);
  const differs = await page.evaluate(() => {
    const c = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
    const d = c.getContext("2d")!.getImageData(0, 0, c.width, c.height).data;
    let most = 0;
    // The surround is grey (56): only what is brighter counts.
    for (let i = 0; i < d.length; i += 4) most = Math.max(most, d[i]!);
    return most;
  });
  expect(differs).toBeGreaterThan(80);

  // Blinking changes by itself, and J flips it.
  await page.keyboard.press("j");
  const note = page.getByTestId("compared");
  await expect(note).toContainText("now");
  await expect(note).toContainText(/version \d/);
  await page.keyboard.press("w");
  await expect(page.getByRole("slider", { name: /Wipe against version/ })).toBeVisible();
  await page.keyboard.press("w");
  await expect(page.getByRole("slider", { name: /Wipe against version/ })).toHaveCount(0);

  // Four views: the first pane is the composite, and each can be another.
  await page.keyboard.press("q");
  await expect(page.getByLabel("View of pane 1")).toHaveValue("composite");
  await page.getByLabel("View of pane 1").selectOption("plate");
  await settled(page);
  const viewer = (await page.getByTestId("viewer").boundingBox())!;
  const pane = { x: viewer.x + viewer.width / 4, y: viewer.y + viewer.height / 4 };
  const inPane = () =>
    page.evaluate(({ x, y }) => {
      const c = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
      const r = c.getBoundingClientRect();
      const k = c.width / r.width;
      // Left of the middle of the pane the screen shows.
      return [...c.getContext("2d")!.getImageData(Math.round((x - 150 - r.left) * k), Math.round((y - r.top) * k), 1, 1).data];
    }, pane);
  await expect.poll(async () => (await inPane())[1]! > 1.4 * (await inPane())[0]!).toBe(true);
  await page.keyboard.press("q");

  // The loupe shows the place under the pointer in the present view.
  await page.keyboard.press("e");
  const over = await onPage(page, frame, ...chest);
  await page.mouse.move(over.x, over.y);
  await expect(page.getByTestId("loupe")).toContainText(/640, 57\d/);
  const loupe = () =>
    page
      .getByTestId("loupe")
      .locator("canvas")
      .evaluate((c: HTMLCanvasElement) => c.getContext("2d")!.getImageData(20, 20, 1, 1).data[0]!);
  await expect.poll(loupe).toBeGreaterThan(200);
  await page.keyboard.press("e");

  // A stronger stretch darkens what is nearly white; the plain matte stays.
  await page.keyboard.press("x");
  await settled(page);
  await page.getByRole("button", { name: "Looking" }).click();
  await noSeriousIssue(page, "the looking menu");
  const gain = page.getByRole("textbox", { name: "Gain at black" });
  const greys = async () =>
    page.evaluate(() => {
      const c = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
      const d = c.getContext("2d")!.getImageData(0, 0, c.width, c.height).data;
      let sum = 0;
      for (let i = 0; i < d.length; i += 4) sum += d[i]!;
      return sum;
    });
  await gain.fill("1");
  await gain.press("Enter");
  await settled(page);
  await page.waitForTimeout(1000);
  const weak = await greys();
  await gain.fill("40");
  await gain.press("Enter");
  await expect.poll(greys).toBeGreaterThan(weak + 10_000);
  await page.keyboard.press("Escape");

  // Two probes stay on the picture, also after a reload, and are listed over the frames.
  await page.keyboard.press("i");
  for (const [x, y] of [chest, corner]) {
    const p = await onPage(page, frame, x, y);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press("Escape");
  await expect(page.getByTestId("probe-mark")).toHaveCount(2);
  await page.waitForTimeout(500);
  await page.reload();
  await expect(page.getByTestId("probe-mark")).toHaveCount(2);
  await settled(page);
  await page.keyboard.press("Shift+I");
  const rows = page.getByTestId("probe-table").locator("tbody tr");
  await expect(rows).not.toHaveCount(0);
  await expect(rows.first()).toContainText(/^1(1\.000|\.[5-9]\d\d)\.000$/);
  await noSeriousIssue(page, "probes over frames");
  await page.getByRole("button", { name: "Take all probes away" }).click();
  await expect(page.getByTestId("probe-mark")).toHaveCount(0);
});

test("a strands pass is suggested where levels cut, owns its place, is looked at alone and dragged; bounds come as close as is safe", async ({
  page,
}) => {
  await open(page, "Matte");
  await set(page, "White point", "60");
  await set(page, "Black point", "35");
  const loss = () => figure(page, "Edge");
  const cut = await loss();
  await rung(page, "Pull").click();
  const controls = page.getByRole("complementary");
  await expect(page.getByTestId("strands-suggestion")).toContainText(/lose \d+ % here/);
  await controls.getByRole("button", { name: "Add a strands pass here" }).click();
  await settled(page);
  expect(await loss()).toBeLessThan(cut);

  // It owns some of the matte, told by its pattern: marks darker than the plain pass's white. Counted at 1:1, where a mark is a pixel.
  const owned = () =>
    page.evaluate(() => {
      const c = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
      const d = c.getContext("2d")!.getImageData(0, 0, c.width, c.height).data;
      let marked = 0;
      for (let i = 0; i < d.length; i += 4) if (d[i] === Math.round(0.45 * 255)) marked++;
      return marked;
    });
  await page.getByRole("radio", { name: "Matte", exact: true }).click();
  await page.getByRole("button", { name: "1:1", exact: true }).click();
  await settled(page);
  const plain = await owned();
  await controls.getByRole("button", { name: "Show owners" }).click();
  await expect(page.getByRole("list", { name: "Owners" })).toContainText("2 strands");
  await settled(page);
  await expect.poll(async () => (await owned()) - plain).toBeGreaterThan(2000);
  await page.getByRole("button", { name: "Fit", exact: true }).click();

  // Alone it is the whole picture's matte; the recipe and its figures stay.
  const holes = await figure(page, "Matte");
  await controls.getByRole("button", { name: "solo" }).nth(1).click();
  await expect(page.getByTestId("solo")).toContainText("Pass 2 strands alone");
  await settled(page);
  await expect.poll(owned).toBeLessThan(100);
  expect(await figure(page, "Matte")).toBe(holes);
  await page.getByRole("button", { name: "show all" }).click();
  await expect(page.getByTestId("solo")).toHaveCount(0);

  // Dragged before the other, it is overruled by it: by hand, and back by keyboard.
  const handle = (name: string) => controls.getByRole("button", { name: `Move pass ${name}` });
  const [from, to] = [(await handle("2 strands").boundingBox())!, (await handle("1 whole").boundingBox())!];
  await drag(page, { x: from.x + 5, y: from.y + 8 }, { x: to.x + 5, y: to.y - 2 });
  await expect(handle("1 strands")).toBeVisible();
  await settled(page);
  expect(await loss()).not.toBe(cut);
  await handle("1 strands").focus();
  await page.keyboard.press("Space");
  await page.waitForTimeout(300);
  await page.keyboard.press("ArrowDown");
  await page.waitForTimeout(300);
  await page.keyboard.press("Space");
  await expect(handle("2 strands")).toBeVisible();
  await settled(page);

  // The garbage matte comes closer, and the clearance over the shot is no less than asked.
  await rung(page, "Bounds").click();
  await page.getByRole("region", { name: "Wide" }).click({ position: { x: 5, y: 5 } });
  const shape = async () => {
    const { recipe } = await server.json<{ recipe: { bounds: { garbage: { points: { x: number; y: number }[] }[] } } }>(VEIL);
    return recipe.bounds.garbage[0]!.points;
  };
  const area = (p: { x: number; y: number }[]) =>
    Math.abs(p.reduce((s, a, i) => s + a.x * p[(i + 1) % p.length]!.y - p[(i + 1) % p.length]!.x * a.y, 0) / 2);
  const wide = area(await shape());
  await controls.getByRole("button", { name: "Tightest safe…" }).click();
  await controls.getByRole("button", { name: "Bring it that close" }).click();
  await settled(page);
  expect(area(await shape())).toBeLessThan(0.97 * wide);
  await expect(page.getByTestId("findings")).toHaveCount(0);
  expect(await figure(page, "Bounds")).toBeGreaterThan(4);

  // Nudged and moved as a whole.
  const before = await shape();
  await page.keyboard.press("Alt+ArrowLeft");
  await settled(page);
  expect((await shape())[2]!.x).toBeCloseTo(before[2]!.x - 1, 3);
  await controls.getByRole("button", { name: "Transform whole shape" }).click();
  const inside = await onPage(page, frame, 0.6 * frame.width, 0.2 * frame.height);
  await drag(page, inside, { x: inside.x + 30, y: inside.y + 12 });
  await settled(page);
  const moved = await shape();
  const [dx, dy] = [moved[2]!.x - before[2]!.x + 1, moved[2]!.y - before[2]!.y];
  expect(dx).toBeGreaterThan(10);
  expect(dy).toBeGreaterThan(4);
  for (const [i, p] of moved.entries()) {
    expect(p.x - before[i]!.x + 1).toBeCloseTo(dx, 3);
    expect(p.y - before[i]!.y).toBeCloseTo(dy, 3);
  }
});

test("the whole shot is measured by the server, also over its sudden end, recalled with its recipe, and played at its true rate", async ({
  page,
}) => {
  await open(page, "Proof");
  const controls = page.getByRole("complementary");
  await controls.getByRole("button", { name: "Measure every frame" }).click();
  await expect(controls.getByRole("button", { name: /Stop · ([6-9]|1\d) of 24/ })).toBeVisible({ timeout: 600_000 });
  await server.kill();
  await server.start();
  // What was measured before the end is still there.
  const kept = await server.json<{ state: string; frames: { frame: number }[] }>(`${VEIL}/figures`);
  expect(kept.frames.length).toBeGreaterThanOrEqual(6);
  await page.reload();
  await settled(page);
  await expect(page.getByTestId("shot-findings")).toBeVisible();
  await controls.getByRole("button", { name: "Measure every frame" }).click();
  await expect(controls.getByRole("button", { name: "Measure every frame" })).toBeVisible({ timeout: 600_000 });
  const all = await server.json<{ state: string; frames: { frame: number; holes: number }[] }>(`${VEIL}/figures`);
  expect(all.state).toBe("done");
  expect(all.frames.map((f) => f.frame)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1));

  // The worst of each figure is told, and its curve drawn; clearance where a garbage matte is drawn.
  await expect(controls).toContainText(/worst edge flicker[\d.]+ ‰, frame \d+/);
  await expect(controls).toContainText(/least clearance(–|[\d\u202f]+ px, frame \d+)/);
  expect(await page.getByTestId("strip").locator("path.recharts-line-curve").count()).toBeGreaterThanOrEqual(3);

  // A finding over the shot flies to its worst frame, and reads there what it reads over the shot.
  const first = page.getByTestId("shot-findings").getByRole("button").first();
  const [figure, worst] = ((await first.locator("span.figure").first().textContent()) ?? "").split(", frame ") as [string, string];
  const what = (await first.locator("span").first().textContent()) as string;
  await first.click();
  await expect(page.getByTestId("frame")).toHaveText(worst);
  await expect(page.getByTestId("findings").locator("li").first()).toContainText(figure);
  await expect(page.getByTestId("findings").locator("li").first()).toContainText(what);
  // A worst frame is one click away.
  const row = controls.getByRole("button", { name: /^Frame \d+/ }).first();
  const number = /Frame (\d+)/.exec((await row.locator("span").first().textContent()) ?? "")![1]!;
  await row.click();
  await expect(page.getByTestId("frame")).toHaveText(number);

  // Another recipe has no figures; undone, the old ones come back.
  await rung(page, "Matte").click();
  await set(page, "White point", "70");
  await rung(page, "Proof").click();
  await expect(page.getByTestId("shot-findings")).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByTestId("shot-findings")).toBeVisible();

  // Playing: frames change by themselves, and the true rate is told beside the shot's own.
  await page.getByRole("radio", { name: "Plate" }).click();
  await settled(page);
  await page.getByRole("button", { name: "Play in a loop" }).click();
  await expect(page.getByTestId("play-rate")).toContainText(/\d\.\d of 24 fps/);
  const seen = new Set<string>();
  await expect
    .poll(async () => seen.add((await page.getByTestId("frame").textContent()) ?? "").size, { intervals: [90] })
    .toBeGreaterThan(5);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  const stopped = await page.getByTestId("frame").textContent();
  await page.waitForTimeout(400);
  await expect(page.getByTestId("frame")).toHaveText(stopped!);
});

test("the log is noted on, searched, gone back on and saved; a recipe goes to another shot and into a set-up", async ({ page }) => {
  await open(page, "Matte");
  const white = page.getByRole("complementary").getByRole("textbox", { name: "White point", exact: true });
  const was = await white.inputValue();
  await set(page, "White point", "83");
  await set(page, "White point", "71");
  await page.getByRole("button", { name: /^Log/ }).click();
  const log = page.getByTestId("log");
  const note = '=SUM(1) "soft", the veil | kept';
  await page.getByLabel("A note for the log").fill(note);
  await page.getByRole("button", { name: "Add note" }).click();
  await expect(log.locator("li").first()).toContainText(note);
  await noSeriousIssue(page, "the log");
  // Every change has its small picture, once its figures are there.
  await expect(log.locator("li").filter({ hasText: "83.0 → 71.0" }).locator("img")).toBeVisible();
  await page.getByLabel("Search the log").fill("white 83");
  await expect(log.locator("li")).toHaveCount(2);
  await page.getByLabel("Search the log").fill("veil kept");
  await expect(log.locator("li")).toHaveCount(1);
  await page.getByLabel("Search the log").fill("");

  // Saved, it is the whole of it, and no spreadsheet would run it.
  const saved = async (name: string) => {
    const download = page.waitForEvent("download");
    await page.getByRole("link", { name, exact: true }).click();
    return readFileSync(await (await download).path(), "utf8");
  };
  expect(await saved("CSV")).toContain(`"'=SUM(1) ""soft"", the veil | kept"`);
  expect(await saved("Markdown")).toContain('=SUM(1) "soft", the veil \\| kept');

  // Back to the change before the last, as a change of its own.
  await log
    .locator("li")
    .filter({ hasText: `${was} → 83.0` })
    .getByRole("button", { name: /^Go back to/ })
    .click();
  await settled(page);
  await expect(white).toHaveValue("83.0");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(white).toHaveValue("71.0");
  await settled(page);

  // The sheet shows plate, key and matte, each of them drawn.
  const sheet = await page.context().newPage();
  await sheet.goto(`${server.address}/shots/1/sheet`);
  await expect(sheet.locator("figure")).toHaveCount(4);
  for (const img of await sheet.locator("img").all())
    await expect.poll(() => img.evaluate((e: HTMLImageElement) => e.naturalWidth)).toBeGreaterThan(300);
  await expect(sheet.getByText(note)).toBeVisible();
  await noSeriousIssue(sheet, "the sheet");
  await sheet.close();

  // To the other shot, where the screen is sampled anew.
  await page.getByRole("button", { name: /^Log/ }).click();
  await page.getByRole("tab", { name: "Use elsewhere" }).click();
  await page.getByRole("checkbox", { name: /honey table/ }).check();
  await noSeriousIssue(page, "use elsewhere");
  await page.getByRole("button", { name: "Copy to 1 shot" }).click();
  await expect(page.getByText("Carried to 1 shot")).toBeVisible();
  type Key = { recipe: { passes: { matte: { white: number } }[]; screen: { colour: { g: number } }; bounds: { garbage: unknown[] } } };
  const [veil, honey] = [await server.json<Key>(VEIL), await server.json<Key>(HONEY)];
  expect(honey.recipe.passes[0]!.matte.white).toBe(0.71);
  expect(honey.recipe.screen.colour).not.toEqual(veil.recipe.screen.colour);
  expect(honey.recipe.bounds.garbage).toEqual([]);

  // As a set-up, with one control, used after the recipe has changed.
  await page.getByRole("checkbox", { name: "Spill amount" }).uncheck();
  await page.getByLabel("Name of the set-up").fill("Soft veil");
  await page.getByRole("button", { name: "Keep set-up" }).click();
  await expect(page.getByRole("list", { name: "Set-ups" })).toContainText("Soft veil");
  await page.getByRole("button", { name: "Close", exact: true }).click();
  await set(page, "White point", "95");
  await page.getByRole("button", { name: /^Log/ }).click();
  await page.getByRole("tab", { name: "Use elsewhere" }).click();
  await page.getByRole("button", { name: "Use the set-up Soft veil" }).click();
  const few = page.getByRole("region", { name: "Set-up Soft veil" });
  await expect(few.getByRole("textbox")).toHaveCount(1);
  await expect(few.getByRole("textbox", { name: "White point" })).toHaveValue("71.0");
  await settled(page);
  expect((await shownAt(page, frame, 0.5 * frame.width, 0.8 * frame.height))[0]).toBe(255);
});
