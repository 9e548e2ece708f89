/**
 * How much faster two server threads are than one: a delivery's frames of the demo's clip at full size, with the recipe that auto proposes. One
 * thread is held on one processor, or its helpers (decoding, garbage) would work on the second already; two have two.
 * Run after `npm run build`: npm run bench:threads
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { Piscina } from "piscina";
import { deliverySettingsSchema } from "../src/core/documents/delivery";
import { decodeRawFrame } from "../src/core/image/raw-frame";
import { proposeRecipe } from "../src/core/recipe/auto";
import { FRAMES_PER_TASK } from "../src/server/jobs/render";
import type { RenderTask } from "../src/server/jobs/render-thread";
import { FrameReader } from "../src/server/media/frames";
import { probeFile } from "../src/server/media/probe";

const root = path.resolve(import.meta.dirname, "..");
const file = path.join(root, "demo/footage/lh-010-veil-at-the-hive.mp4");
const info = await probeFile(file);
const raw = await new FrameReader(file, info).frame(1);
const { recipe } = proposeRecipe(decodeRawFrame(raw, info.reading), 1, undefined, { recorded: { raw, reading: info.reading } });
const FRAMES = 4 * FRAMES_PER_TASK;
const settings = deliverySettingsSchema.parse({ format: "mov", alpha: "straight", firstFrame: 1, lastFrame: FRAMES });
process.env.MELLOW_SIEVE_DATA = mkdtempSync(path.join(os.tmpdir(), "sieve-threads-"));

/** Seconds that threads of this process take. */
async function seconds(threads: number): Promise<number> {
  const pool = new Piscina({ filename: path.join(root, "dist/threads/render-thread.js"), minThreads: threads, maxThreads: threads });
  const deliver = (first: number, count: number) => {
    const frames = Array.from({ length: count }, (_, k) => first + k);
    return pool.run({ deliveryId: 1, recipe, plate: { file, info }, clean: null, background: null, settings, frames } satisfies RenderTask);
  };
  // Code is warm before the clock starts.
  await Promise.all(Array.from({ length: threads }, (_, k) => deliver(k + 1, 1)));
  const started = performance.now();
  await Promise.all(Array.from({ length: FRAMES / FRAMES_PER_TASK }, (_, k) => deliver(1 + k * FRAMES_PER_TASK, FRAMES_PER_TASK)));
  const took = (performance.now() - started) / 1000;
  await pool.destroy();
  return took;
}
if (process.argv[2]) console.log(await seconds(Number(process.argv[2])));
else {
  const inOwnProcess = (threads: number): number => {
    const here = [process.execPath, ...process.execArgv, import.meta.filename, String(threads)];
    const out = execFileSync("taskset", ["-c", threads === 1 ? "0" : "0,1", ...here], {
      encoding: "utf8",
      stdio: ["ignore", "pipe", "ignore"],
    });
    return Number(out.trim());
  };
  const runs: number[] = [];
  for (let k = 0; k < 3; k++) {
    const [one, two] = [inOwnProcess(1), inOwnProcess(2)];
    runs.push(one / two);
    console.log(
      `${FRAMES} frames of ${info.width}×${info.height}: one thread ${one.toFixed(1)} s, two ${two.toFixed(1)} s, ${(one / two).toFixed(2)} times`,
    );
  }
  console.log(`median ${runs.sort((a, b) => a - b)[1]!.toFixed(2)} times`);
}
rmSync(process.env.MELLOW_SIEVE_DATA, { recursive: true, force: true });
