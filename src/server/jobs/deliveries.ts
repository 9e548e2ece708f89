import { createReadStream, existsSync, readdirSync, rmSync, statSync } from "node:fs";
import path from "node:path";
import { and, desc, eq, inArray } from "drizzle-orm";
import { type Delivery, deliverySettingsSchema } from "../../core/documents/delivery";
import { timecode } from "../../core/documents/timecode";
import { looksAtBackground } from "../../core/recipe/evaluate";
import { parseRecipe } from "../../core/recipe/schema";
import { database } from "../db/open";
import { deliveries, shots } from "../db/schema";
import { asComplaint, Complaint } from "../files/complaint";
import { writeAside } from "../files/write-aside";
import { getMedia } from "../media/store";
import { getShot } from "../shots";
import { deliveryFolder, frameFile, missingFrames, movFile } from "./delivery-files";
import { writeProres } from "./prores";
import { inStretches } from "./render";
import type { RenderTask } from "./render-thread";
import { inThread } from "./threads";

interface Running {
  readonly stop: AbortController;
  /** When this process began, and how many frames were there then: what time left is told from. */
  readonly since: number;
  readonly doneBefore: number;
}
const shared = globalThis as { mellowSieveDeliveries?: Map<number, Running> };
shared.mellowSieveDeliveries ??= new Map();
const running = shared.mellowSieveDeliveries;

function row(id: number) {
  const found = database().select().from(deliveries).where(eq(deliveries.id, id)).get();
  if (!found) throw new Complaint(404, "There is no such delivery.", "Choose one from the list.");
  return found;
}

function present(r: typeof deliveries.$inferSelect): Delivery {
  const settings = deliverySettingsSchema.parse(r.settings);
  const active = running.get(r.id);
  const doneFrames = active ? r.totalFrames - missingFrames(r.id, settings).length : r.doneFrames;
  const fresh = active ? doneFrames - active.doneBefore : 0;
  const folder = deliveryFolder(r.id);
  const files =
    r.state === "done"
      ? readdirSync(folder)
          .filter((n) => /\.(png|mov|json)$/.test(n))
          .sort()
          .map((name) => ({ name, bytes: statSync(path.join(folder, name)).size }))
      : [];
  return {
    id: r.id,
    shotId: r.shotId,
    state: r.state,
    settings,
    doneFrames,
    totalFrames: r.totalFrames,
    resumed: r.resumed,
    timeLeft: active && fresh > 0 ? ((Date.now() - active.since) / fresh / 1000) * (r.totalFrames - doneFrames) : null,
    error: r.error,
    folder,
    files,
    createdAt: r.createdAt,
    finishedAt: r.finishedAt,
  };
}

export const listDeliveries = (shotId: number): Delivery[] =>
  database().select().from(deliveries).where(eq(deliveries.shotId, shotId)).orderBy(desc(deliveries.id)).limit(20).all().map(present);

export const getDelivery = (id: number): Delivery => present(row(id));

/** Starts delivering a shot with the recipe it has now. */
export function startDelivery(shotId: number, input: unknown): Delivery {
  const parsed = deliverySettingsSchema.safeParse(input);
  if (!parsed.success)
    throw new Complaint(
      422,
      `The delivery's settings are not valid: ${parsed.error.issues[0]?.message ?? "unknown"}.`,
      "Correct them and try again.",
    );
  const settings = parsed.data;
  const shot = getShot(shotId);
  if (!shot.recipe.screen.colour) throw new Complaint(422, "The shot has no screen colour yet.", "Sample the screen first.");
  if (settings.lastFrame > shot.plate.info.frames)
    throw new Complaint(422, `The plate has ${shot.plate.info.frames} frames.`, "Choose a range within them.");
  const inserted = database()
    .insert(deliveries)
    .values({
      shotId,
      recipe: shot.recipe,
      settings,
      state: "queued",
      totalFrames: settings.lastFrame - settings.firstFrame + 1,
      createdAt: Date.now(),
    })
    .returning()
    .get();
  void work(inserted.id);
  return present(inserted);
}

/** Stops a delivery; its finished frames are thrown away. */
export function cancelDelivery(id: number): Delivery {
  const r = row(id);
  if (r.state === "queued" || r.state === "running") {
    database().update(deliveries).set({ state: "cancelled", finishedAt: Date.now() }).where(eq(deliveries.id, id)).run();
    running.get(id)?.stop.abort();
    rmSync(deliveryFolder(id), { recursive: true, force: true });
  }
  return getDelivery(id);
}

/** Takes up what a stopped server left unfinished. Called once when the server starts. */
export function resumeDeliveries(): number {
  const left = database()
    .select()
    .from(deliveries)
    .where(inArray(deliveries.state, ["queued", "running"]))
    .all();
  for (const r of left) {
    if (running.has(r.id)) continue;
    if (r.state === "running")
      database()
        .update(deliveries)
        .set({ resumed: r.resumed + 1 })
        .where(eq(deliveries.id, r.id))
        .run();
    void work(r.id);
  }
  return left.length;
}

async function work(id: number): Promise<void> {
  const db = database();
  const stop = new AbortController();
  const r = row(id);
  const settings = deliverySettingsSchema.parse(r.settings);
  running.set(id, { stop, since: Date.now(), doneBefore: r.totalFrames - missingFrames(id, settings).length });
  // A state is only ever changed from one that this work owns, so that a cancel is not overwritten.
  const setState = (values: Partial<typeof deliveries.$inferInsert>) =>
    db
      .update(deliveries)
      .set(values)
      .where(and(eq(deliveries.id, id), inArray(deliveries.state, ["queued", "running"])))
      .run();
  try {
    setState({ state: "running", startedAt: r.startedAt ?? Date.now() });
    const recipe = parseRecipe(r.recipe);
    const shot = db.select().from(shots).where(eq(shots.id, r.shotId)).get();
    if (!shot) throw new Complaint(404, "The shot of this delivery is gone.", "");
    const { file, info } = getMedia(shot.plateId);
    const cleanId = recipe.screen.from === "supplied" ? recipe.screen.cleanPlate : null;
    const clean = cleanId ? getMedia(cleanId) : null;
    const backgroundId = looksAtBackground(recipe, ["foreground"]) ? recipe.scene.background : null;
    const background = backgroundId ? getMedia(backgroundId) : null;
    const tasks = inStretches(missingFrames(id, settings)).map(
      (frames): RenderTask => ({
        deliveryId: id,
        recipe,
        plate: { file, info },
        clean: clean && { file: clean.file, info: clean.info },
        background: background && { file: background.file, info: background.info },
        settings,
        frames,
      }),
    );
    await Promise.all(
      tasks.map(async (task) => {
        await inThread(task, { signal: stop.signal });
        setState({ doneFrames: r.totalFrames - missingFrames(id, settings).length });
      }),
    );
    const starts = info.timecode ? timecode(settings.firstFrame, info.rate, info.timecode) : null;
    if (settings.format === "mov") {
      const rate = info.rate ?? { num: 24, den: 1 };
      const frames: string[] = [];
      for (let f = settings.firstFrame; f <= settings.lastFrame; f++) frames.push(frameFile(id, settings, f));
      const seconds = (n: number) => (n * rate.den) / rate.num;
      await writeProres({
        frames,
        width: info.width,
        height: info.height,
        rate,
        target: movFile(id),
        sound: info.audio ? { file, start: seconds(settings.firstFrame - 1), duration: seconds(r.totalFrames) } : null,
        pixelAspect: info.pixelAspect,
        timecode: starts,
        signal: stop.signal,
      });
      rmSync(path.dirname(frames[0] as string), { recursive: true, force: true });
    }
    const note = {
      alpha: settings.alpha,
      colour:
        settings.format === "png" ? "sRGB-coded, spill treated; premultiplying is done in linear light" : "BT.709-coded, spill treated",
      coverage: "linear, 0…65535",
      frames: [settings.firstFrame, settings.lastFrame],
      rate: info.rate && `${info.rate.num}/${info.rate.den}`,
      timecode: starts,
      pixelAspect: info.pixelAspect,
      recipe,
    };
    writeAside(path.join(deliveryFolder(id), "delivery.json"), Buffer.from(JSON.stringify(note, null, 2)));
    setState({ state: "done", doneFrames: r.totalFrames, finishedAt: Date.now(), error: null });
  } catch (error) {
    if (stop.signal.aborted) rmSync(deliveryFolder(id), { recursive: true, force: true });
    else {
      console.error(error);
      stop.abort();
      setState({ state: "failed", error: asComplaint(error).message, finishedAt: Date.now() });
    }
  } finally {
    running.delete(id);
  }
}

/** Opens one delivered file for download. Only plain names of finished deliveries are served. */
export function openDelivered(id: number, name: string): { stream: ReturnType<typeof createReadStream>; bytes: number } {
  const delivery = getDelivery(id);
  const file = delivery.files.find((f) => f.name === name);
  const full = path.join(delivery.folder, path.basename(name));
  if (!file || !existsSync(full)) throw new Complaint(404, "There is no such delivered file.", "Choose one from the delivery's list.");
  return { stream: createReadStream(full), bytes: file.bytes };
}
