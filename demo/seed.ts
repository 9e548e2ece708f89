/** Puts the demo job into the data folder, unless it is there. Run by `npm run demo`. */
import path from "node:path";
import { decodeRawFrame } from "../src/core/image/raw-frame";
import { proposeRecipe } from "../src/core/recipe/auto";
import { defaultRecipe, type Recipe } from "../src/core/recipe/schema";
import { asComplaint, Complaint } from "../src/server/files/complaint";
import { readerOf, takeFile } from "../src/server/media/store";
import { keepVersion } from "../src/server/records";
import { createJob, createShot, listJobs, saveChange } from "../src/server/shots";

const JOB = "Linden Hill";
const footage = (name: string) => path.join(import.meta.dirname, "footage", name);

async function seed(): Promise<void> {
  if (listJobs().some((j) => j.name === JOB)) return;
  const hive = await takeFile(footage("lh-010-veil-at-the-hive.mp4"));
  const table = await takeFile(footage("lh-020-honey-table.png"));
  const meadow = await takeFile(footage("meadow.jpg"));
  await takeFile(footage("pantry.jpg"));

  const job = createJob(JOB);
  const raw = await readerOf(hive.id).frame(1);
  const { reading } = hive.info;
  const { recipe: proposed, ...why } = proposeRecipe(decodeRawFrame(raw, reading), 1, undefined, { recorded: { raw, reading } });
  // Wide enough for the arm's swing over the whole shot; the corners of the screen are out.
  const garbage = [
    [0, 520],
    [230, 440],
    [330, 210],
    [520, 40],
    [900, 40],
    [1010, 420],
    [1090, 720],
    [0, 720],
  ].map(([x, y]) => ({ x: x as number, y: y as number }));
  const recipe: Recipe = {
    ...proposed,
    bounds: {
      ...proposed.bounds,
      garbage: [
        { id: "garbage-1", name: "Wide", points: garbage, kind: "garbage", keys: [], smooth: false, lean: 0, out: "outside", soft: 24 },
      ],
    },
    scene: { ...proposed.scene, background: meadow.id },
  };
  const view = { frame: 1, step: "Matte", view: "composite", ground: "scene" };
  const shot = createShot(job, "LH-010 Veil at the hive", hive.id, defaultRecipe(), view);
  const entry = { frame: 1, before: null };
  const first = { ...entry, step: "Plate", what: "Whole key proposed from measurement", proposed: why };
  saveChange(shot, { recipe: proposed, revision: 0, entry: first });
  const dressed = { ...entry, step: "Scene", what: "Garbage drawn, meadow behind" };
  saveChange(shot, { recipe, revision: 1, entry: dressed });
  keepVersion(shot, { name: "As proposed", recipe: { ...proposed, scene: recipe.scene }, figures: null, frame: 1 });
  createShot(job, "LH-020 The honey table", table.id, defaultRecipe(), { frame: 1, step: "Plate", view: "plate" });
}

try {
  await seed();
} catch (error) {
  console.error(asComplaint(error, new Complaint(500, (error as Error).stack ?? String(error), "")).message);
  process.exitCode = 1;
}
