import path from "node:path";
import { type Browser, type BrowserContextOptions, type CDPSession, expect, type Page, test } from "@playwright/test";
import sharp from "sharp";
import { BenchServer, root } from "./bench-server";
import { openStep, settled } from "./picture";

/** Other hands, other displays: fingers on a tablet, true pixels at high density, motion that is not wanted. */
const server = new BenchServer(4477);
test.beforeAll(async () => {
  server.seed();
  await server.start();
});
test.afterAll(() => server.remove());

async function open(browser: Browser, shot: RegExp, step: string, context: BrowserContextOptions): Promise<Page> {
  const page = await (await browser.newContext(context)).newPage();
  await openStep(page, server.address, shot, step);
  return page;
}

type Place = readonly [x: number, y: number];
/** Fingers set down at the first places, moved along the others, and lifted. */
async function fingers(cdp: CDPSession, ...steps: (readonly Place[])[]): Promise<void> {
  for (const [k, places] of steps.entries())
    await cdp.send("Input.dispatchTouchEvent", {
      type: k === 0 ? "touchStart" : "touchMove",
      touchPoints: places.map(([x, y], id) => ({ x, y, id })),
    });
  await cdp.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
}

test("fingers on a tablet turn a control, pan the picture, and pinch it about the place between them", async ({ browser }) => {
  const page = await open(browser, /Veil at the hive/, "Plate", { hasTouch: true, viewport: { width: 1180, height: 820 } });
  const cdp = await page.context().newCDPSession(page);
  await page
    .getByRole("navigation", { name: "Steps" })
    .getByRole("button", { name: /^Matte/ })
    .tap();
  const field = page.getByRole("complementary").getByRole("textbox", { name: "White point", exact: true });
  const before = Number(await field.inputValue());
  const thumb = (await page.getByRole("slider", { name: "White point" }).boundingBox())!;
  const [x, y] = [thumb.x + thumb.width / 2, thumb.y + thumb.height / 2];
  await fingers(cdp, [[x, y]], [[x - 20, y]], [[x - 40, y]]);
  await settled(page);
  expect(Number(await field.inputValue())).toBeLessThan(before - 5);

  // What lies under a finger: its place in the frame, told by the view that is kept of the shot.
  const viewer = (await page.getByTestId("viewer").boundingBox())!;
  const middle: Place = [viewer.x + viewer.width / 2, viewer.y + viewer.height / 2];
  const kept = async () => {
    await page.waitForTimeout(1500);
    return (await server.json<{ view: { zoom: number; centerX: number; centerY: number } }>("/api/shots/1")).view;
  };
  await page.getByRole("button", { name: "1:1" }).tap();
  const start = await kept();
  expect(start.zoom).toBe(1);
  await fingers(cdp, [middle], [[middle[0] + 30, middle[1] + 10]], [[middle[0] + 60, middle[1] + 25]]);
  const panned = await kept();
  expect(panned.zoom).toBe(1);
  expect(panned.centerX - start.centerX).toBeCloseTo(-60, 0);
  expect(panned.centerY - start.centerY).toBeCloseTo(-25, 0);

  // Twice as far apart, about a place 100 px right of the middle: it stays where it is.
  const about = middle[0] + 100;
  const apart = (d: number): Place[] => [
    [about - d, middle[1]],
    [about + d, middle[1]],
  ];
  await fingers(cdp, apart(40), apart(60), apart(80));
  const pinched = await kept();
  expect(pinched.zoom).toBeCloseTo(2, 1);
  expect(pinched.centerX + 100 / pinched.zoom).toBeCloseTo(panned.centerX + 100, 0);
  await page.context().close();
});

test("one to one on a display of double density shows every pixel of the plate on one of its own", async ({ browser }) => {
  const page = await open(browser, /The honey table/, "Plate", { deviceScaleFactor: 2, viewport: { width: 1280, height: 800 } });
  await page.getByTitle("Plate (P)").click();
  await page.keyboard.press("o");
  await settled(page);
  const at = { x: 600, y: 340, size: 24 };
  const patch = () =>
    page.evaluate(({ x, y, size }) => {
      const c = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
      // The middle of a frame of 1280 × 720 lies in the middle of the canvas.
      const [left, top] = [Math.round(c.width / 2 - 640 + x), Math.round(c.height / 2 - 360 + y)];
      return [...c.getContext("2d")!.getImageData(left, top, size, size).data].filter((_, i) => i % 4 < 3);
    }, at);
  const { data } = await sharp(path.join(root, "demo/footage/lh-020-honey-table.png"))
    .removeAlpha()
    .toColourspace("srgb")
    .extract({ left: at.x, top: at.y, width: at.size, height: at.size })
    .raw()
    .toBuffer({ resolveWithObject: true });
  await expect
    .poll(async () => {
      const shown = await patch();
      return Math.max(...shown.map((v, i) => Math.abs(v - (data[i] ?? 0))));
    })
    .toBeLessThanOrEqual(2);
  // A check that can fail: the patch is no even field, in which every place looks like every other.
  expect(Math.max(...data) - Math.min(...data)).toBeGreaterThan(40);
  await page.context().close();
});

test("where less motion is asked for, nothing blinks by itself; J flips", async ({ browser }) => {
  const page = await open(browser, /Veil at the hive/, "Matte", { reducedMotion: "reduce", viewport: { width: 1280, height: 800 } });
  await page.keyboard.press("k");
  await expect(page.getByRole("button", { name: /Log · version \d/ })).toBeVisible();
  await page.keyboard.press("y");
  await page.keyboard.press("j");
  const note = page.getByTestId("compared");
  await expect(note).toContainText("now");
  await page.waitForTimeout(3000);
  await expect(note).toContainText("now");
  await page.keyboard.press("j");
  await expect(note).toContainText(/version \d/);
  await page.context().close();
});
