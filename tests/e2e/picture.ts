import { expect, type Page } from "@playwright/test";

/** The margin the viewer keeps around a fitted frame. */
const MARGIN = 20;

/** Where a pixel of the fitted frame lies on the page. */
export async function onPage(
  page: Page,
  frame: { width: number; height: number },
  x: number,
  y: number,
): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId("viewer").boundingBox())!;
  const zoom = Math.min((box.width - 2 * MARGIN) / frame.width, (box.height - 2 * MARGIN) / frame.height);
  return { x: box.x + box.width / 2 + (x - frame.width / 2) * zoom, y: box.y + box.height / 2 + (y - frame.height / 2) * zoom };
}

/** The colours the viewer's canvas shows at pixels of the fitted frame, all of one moment. */
export async function shownAtAll(
  page: Page,
  frame: { width: number; height: number },
  pixels: readonly { x: number; y: number }[],
): Promise<[number, number, number][]> {
  const first = await onPage(page, frame, 0, 0);
  const last = await onPage(page, frame, frame.width, frame.height);
  const at = pixels.map(({ x, y }) => ({
    x: first.x + (x / frame.width) * (last.x - first.x),
    y: first.y + (y / frame.height) * (last.y - first.y),
  }));
  return page.evaluate((points) => {
    const canvas = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
    const r = canvas.getBoundingClientRect();
    const k = canvas.width / r.width;
    const shown = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height).data;
    return points.map(({ x, y }): [number, number, number] => {
      const i = 4 * (Math.round((y - r.top) * k) * canvas.width + Math.round((x - r.left) * k));
      return [shown[i]!, shown[i + 1]!, shown[i + 2]!];
    });
  }, at);
}

/** The colour the viewer's canvas shows at a pixel of the fitted frame. */
export async function shownAt(
  page: Page,
  frame: { width: number; height: number },
  x: number,
  y: number,
): Promise<[number, number, number]> {
  return (await shownAtAll(page, frame, [{ x, y }]))[0]!;
}

export async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2);
  await page.mouse.move(to.x, to.y);
  await page.mouse.up();
}

/** The number in a rung's figure: "holes 1 514 px" is 1514, "holes 12k px" 12 000. */
export async function figure(page: Page, step: string): Promise<number> {
  const text = (await page.getByTestId(`figure-${step}`).textContent()) ?? "";
  return Number(text.replace(/[\s\u202f]/g, "").replace(/[^\d.]/g, "")) * (/\dk/.test(text) ? 1000 : 1);
}

/** Waits until figures are exact and everything is saved. */
export async function settled(page: Page): Promise<void> {
  await page.waitForTimeout(150);
  await page.waitForFunction(
    () =>
      document.querySelector("header [role=status]")?.textContent === "Saved" &&
      document.querySelector("nav[aria-label=Steps]")?.getAttribute("aria-busy") === "false",
  );
}

/** The colour shown at a pixel once the picture is that of what is set, at full size. */
export async function restingAt(page: Page, frame: { width: number; height: number }, x: number, y: number) {
  await expect(page.getByTestId("picture")).toHaveAttribute("aria-busy", "false");
  return shownAt(page, frame, x, y);
}

/** Opens a shot from the page of all jobs, at a step, and waits until its picture rests. */
export async function openStep(page: Page, address: string, shot: RegExp, step: string): Promise<void> {
  await page.goto(address);
  await page.getByRole("link", { name: shot }).click();
  await page
    .getByRole("navigation", { name: "Steps" })
    .getByRole("button", { name: new RegExp(`^${step}`) })
    .click();
  await settled(page);
}
