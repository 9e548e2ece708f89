/**
 * Takes the pictures of the main views from the demo, at 1280×800. Run after `npm run build`:
 * npm run screenshots [-- names…] — writes docs/screenshots/ (or the folder in SCREENSHOTS).
 */
import { mkdirSync } from "node:fs";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { BenchServer, root } from "../tests/e2e/bench-server";
import { onPage, openStep, settled } from "../tests/e2e/picture";

const folder = process.env.SCREENSHOTS ?? path.join(root, "docs/screenshots");
const only = process.argv.slice(2);
const server = new BenchServer(4474);
const veil = { width: 1280, height: 720 };

const bench = (page: Page, shot: RegExp, step: string): Promise<void> => openStep(page, server.address, shot, step);
const VEIL = /Veil at the hive/;

/** Each view: how to come to it. */
const VIEWS: Record<string, (page: Page) => Promise<void>> = {
  jobs: async (page) => {
    await page.goto(server.address);
    await page.getByRole("link", { name: VEIL }).waitFor();
    await page.waitForFunction(() => [...document.images].every((i) => i.complete && i.naturalWidth > 0));
  },
  "bench-composite": async (page) => {
    await bench(page, VEIL, "Pull");
    await page.getByRole("radio", { name: "Composite" }).click();
    await settled(page);
  },
  "plate-report": async (page) => {
    await bench(page, /honey table/, "Plate");
    await page.getByTestId("report").waitFor();
  },
  screen: (page) => bench(page, VEIL, "Screen"),
  bounds: (page) => bench(page, VEIL, "Bounds"),
  matte: (page) => bench(page, VEIL, "Matte"),
  bracket: async (page) => {
    await bench(page, VEIL, "Matte");
    await page.getByRole("button", { name: "Bracket White point" }).click();
    await page.getByText(/^Proposed|^The figures/).waitFor({ timeout: 60_000 });
  },
  "bracket-two": async (page) => {
    await bench(page, VEIL, "Matte");
    await page.getByRole("button", { name: "Bracket Edge position" }).click();
    await page.getByLabel("And a second control").selectOption("Edge softness");
    await page.getByText(/^Proposed|^The figures/).waitFor({ timeout: 60_000 });
  },
  spill: (page) => bench(page, VEIL, "Spill"),
  paint: async (page) => {
    await bench(page, VEIL, "Spill");
    await page.getByRole("heading", { name: /^Paint/ }).scrollIntoViewIfNeeded();
    await page.getByRole("button", { name: "Pick colour" }).click();
    const at = await onPage(page, veil, 640, 200);
    await page.mouse.click(at.x, at.y);
    await page.getByText("This colour").waitFor();
  },
  edge: (page) => bench(page, VEIL, "Edge"),
  scene: (page) => bench(page, VEIL, "Scene"),
  proof: async (page) => {
    await bench(page, VEIL, "Proof");
    await page.getByRole("button", { name: "Measure every frame" }).click();
    await page.getByRole("button", { name: "Measure every frame" }).and(page.locator(":enabled")).waitFor({ timeout: 600_000 });
  },
  deliver: (page) => bench(page, VEIL, "Deliver"),
  log: async (page) => {
    await bench(page, VEIL, "Matte");
    const white = page.getByRole("textbox", { name: "White point", exact: true });
    await white.fill("90");
    await white.press("Enter");
    await settled(page);
    await page.getByRole("button", { name: "Undo" }).click();
    await settled(page);
    await page.waitForTimeout(3000);
    await page.getByRole("button", { name: /^Log/ }).click();
    await page.getByLabel("A note for the log").fill("90 % closes the holes and costs the veil its mesh: the strands come first.");
    await page.getByRole("button", { name: "Add note" }).click();
    await page.getByText("the strands come first").waitFor();
  },
  reuse: async (page) => {
    await bench(page, VEIL, "Matte");
    await page.getByRole("button", { name: /^Log/ }).click();
    await page.getByRole("tab", { name: "Use elsewhere" }).click();
    await page.getByRole("checkbox", { name: /honey table/ }).check();
  },
  tightest: async (page) => {
    await bench(page, VEIL, "Bounds");
    await page.getByRole("region", { name: "Wide" }).click({ position: { x: 5, y: 5 } });
    await page.getByRole("button", { name: "Tightest safe…" }).click();
    await page.getByRole("button", { name: "Bring it that close" }).scrollIntoViewIfNeeded({ timeout: 120_000 });
  },
  "four-views": async (page) => {
    await bench(page, VEIL, "Spill");
    await page.keyboard.press("q");
    await page.keyboard.press("e");
    await settled(page);
    const viewer = (await page.getByTestId("viewer").boundingBox())!;
    await page.mouse.move(viewer.x + 0.2 * viewer.width, viewer.y + 0.2 * viewer.height);
    await page.waitForTimeout(4000);
  },
  // Last: the pass that it adds stays.
  passes: async (page) => {
    await bench(page, VEIL, "Matte");
    for (const [name, value] of [
      ["White point", "60"],
      ["Black point", "35"],
    ] as const) {
      const field = page.getByRole("textbox", { name, exact: true });
      await field.fill(value);
      await field.press("Enter");
      await settled(page);
    }
    await page.getByRole("navigation", { name: "Steps" }).getByRole("button", { name: /^Pull/ }).click();
    await page.getByRole("button", { name: "Add a strands pass here" }).click({ timeout: 60_000 });
    await settled(page);
    await page.getByRole("button", { name: "Show owners" }).click();
    await settled(page);
  },
};

mkdirSync(folder, { recursive: true });
server.seed();
await server.start();
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? "/usr/bin/chromium",
  args: ["--no-sandbox", "--disable-gpu"],
});
try {
  for (const [name, come] of Object.entries(VIEWS)) {
    if (only.length && !only.includes(name)) continue;
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await come(page);
    const proof = page.getByTestId("figure-Proof");
    if (await proof.count()) await proof.filter({ hasNotText: "…" }).waitFor({ timeout: 60_000 });
    await page.waitForTimeout(1000);
    await page.screenshot({ path: path.join(folder, `${name}.png`) });
    await page.close();
    console.log(name);
  }
} finally {
  await browser.close();
  await server.remove();
}
