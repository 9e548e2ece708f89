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

/** The colour the viewer's canvas shows at a pixel of the fitted frame. */
export async function shownAt(
  page: Page,
  frame: { width: number; height: number },
  x: number,
  y: number,
): Promise<[number, number, number]> {
  const at = await onPage(page, frame, x, y);
  return page.evaluate(({ x: px, y: py }) => {
    const canvas = document.querySelector<HTMLCanvasElement>("[data-testid=picture]")!;
    const r = canvas.getBoundingClientRect();
    const k = canvas.width / r.width;
    const d = canvas.getContext("2d")!.getImageData(Math.round((px - r.left) * k), Math.round((py - r.top) * k), 1, 1).data;
    return [d[0]!, d[1]!, d[2]!] as [number, number, number];
  }, at);
}

export async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2);
  await page.mouse.move(to.x, to.y);
  await page.mouse.up();
}

/** The number in a rung's figure: "holes 1 514 px" is 1514. */
export async function figure(page: Page, step: string): Promise<number> {
  const text = (await page.getByTestId(`figure-${step}`).textContent()) ?? "";
  return Number(text.replace(/[\s\u202f]/g, "").replace(/[^\d.]/g, ""));
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
