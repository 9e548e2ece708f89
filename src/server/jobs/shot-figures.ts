import { createHash } from "node:crypto";
import { MessageChannel } from "node:worker_threads";
import { and, asc, desc, eq, max, notInArray } from "drizzle-orm";
import { type ShotFigures, shotFrameSchema, shotReduce } from "../../core/documents/shot-figures";
import type { Size } from "../../core/image/plane";
import { judgesBackground, type ShotFrame } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import { database } from "../db/open";
import { frameFigures } from "../db/schema";
import { asComplaint, Complaint } from "../files/complaint";
import { footageOf } from "../media/store";
import { getShot } from "../shots";
import { FRAMES_PER_TASK, inStretches } from "./render";
import type { MeasureTask } from "./render-thread";
import { inThread, threadCount } from "./threads";

/** Recipes of a shot whose figures are kept. */
const KEPT = 8;

interface Running {
  readonly recipe: string;
  readonly stop: AbortController;
}
const shared = globalThis as { mellowSieveFigures?: Map<number, Running>; mellowSieveFigureErrors?: Map<number, string> };
shared.mellowSieveFigures ??= new Map();
shared.mellowSieveFigureErrors ??= new Map();
const running = shared.mellowSieveFigures;
const errors = shared.mellowSieveFigureErrors;

/** A hash of what figures depend on, the size that is measured with it: dismissing a finding or painting over it changes none. */
const hashOf = ({ dismissed: _, paint: __, ...recipe }: Recipe, plate: Size): string =>
  createHash("sha256")
    .update(`${shotReduce(plate)} ${JSON.stringify(recipe)}`)
    .digest("hex");

const rowsOf = (shotId: number, recipe: string): ShotFrame[] =>
  database()
    .select({ figures: frameFigures.figures })
    .from(frameFigures)
    .where(and(eq(frameFigures.shotId, shotId), eq(frameFigures.recipe, recipe)))
    .orderBy(asc(frameFigures.frame))
    .all()
    .map((r) => shotFrameSchema.parse(r.figures) as ShotFrame);

/** Figures under the recipe that the shot has now. */
export function shotFigures(shotId: number): ShotFigures {
  const shot = getShot(shotId);
  const recipe = hashOf(shot.recipe, shot.plate.info);
  const frames = rowsOf(shotId, recipe);
  const total = shot.plate.info.frames;
  const error = errors.get(shotId) ?? null;
  const active = running.get(shotId)?.recipe === recipe;
  const state = active ? "running" : frames.length === total ? "done" : error ? "failed" : frames.length ? "stopped" : "none";
  return { revision: shot.revision, state, error: state === "failed" ? error : null, total, frames };
}

/** Measures the frames that are still missing under the shot's recipe; what ran for an older recipe stops. */
export function measureShotFigures(shotId: number): ShotFigures {
  const shot = getShot(shotId);
  if (!shot.recipe.screen.colour) throw new Complaint(422, "The shot has no screen colour yet.", "Sample the screen first.");
  const recipe = hashOf(shot.recipe, shot.plate.info);
  const now = running.get(shotId);
  if (now?.recipe !== recipe) {
    now?.stop.abort();
    errors.delete(shotId);
    prune(shotId, recipe);
    const stop = new AbortController();
    running.set(shotId, { recipe, stop });
    void work(shotId, recipe, stop);
  }
  return shotFigures(shotId);
}

/** Stops measuring; what is measured stays. */
export function stopShotFigures(shotId: number): ShotFigures {
  running.get(shotId)?.stop.abort();
  running.delete(shotId);
  return shotFigures(shotId);
}

async function work(shotId: number, recipe: string, stop: AbortController): Promise<void> {
  try {
    const shot = getShot(shotId);
    const { info } = shot.plate;
    const there = new Set(rowsOf(shotId, recipe).map((r) => r.frame));
    const missing = Array.from({ length: info.frames }, (_, i) => i + 1).filter((n) => !there.has(n));
    const { cleanPlate, from } = shot.recipe.screen;
    const { background } = shot.recipe.scene;
    const tasks = inStretches(missing, stretchOf(missing.length)).map(
      (frames): Omit<MeasureTask, "report"> => ({
        recipe: shot.recipe,
        plate: footageOf(shot.plate.id),
        clean: from === "supplied" && cleanPlate ? footageOf(cleanPlate) : null,
        background: background && judgesBackground(shot.recipe) ? footageOf(background) : null,
        frames,
        reduce: shotReduce(info),
      }),
    );
    await Promise.all(
      tasks.map(async (task) => {
        // Each frame is kept as soon as it is measured: what is done shows, and a sudden end costs one frame.
        const { port1: told, port2: report } = new MessageChannel();
        const keep = (rows: readonly ShotFrame[]) => {
          if (stop.signal.aborted || !rows.length) return;
          const values = rows.map((r) => ({ shotId, recipe, frame: r.frame, figures: r, createdAt: Date.now() }));
          database().insert(frameFigures).values(values).onConflictDoNothing().run();
        };
        told.on("message", (row: ShotFrame) => {
          try {
            keep([row]);
          } catch {
            // All frames are kept again at the end, where what stands in the way is told.
          }
        });
        try {
          const options = { name: "measureFrames", signal: stop.signal, transferList: [report] };
          // What was told may still be on its way.
          keep(await inThread<ShotFrame[]>({ ...task, report }, options));
        } finally {
          told.close();
        }
      }),
    );
  } catch (error) {
    if (!stop.signal.aborted) {
      console.error(error);
      errors.set(shotId, asComplaint(error).message);
      stop.abort();
    }
  } finally {
    if (running.get(shotId)?.stop === stop) running.delete(shotId);
  }
}

/** Most frames measured in one go: with a neighbour on either side, as many as are decoded in two. */
const LONGEST = 14;

/** Frames a thread measures in one go. The neighbours at its ends are pulled twice: the fewer ends, the sooner all is measured. */
const stretchOf = (frames: number): number => Math.max(FRAMES_PER_TASK, Math.min(LONGEST, Math.ceil(frames / threadCount())));

/** Lets the figures of recipes go that have not been looked at for long. */
function prune(shotId: number, recipe: string): void {
  const db = database();
  const newest = db
    .select({ recipe: frameFigures.recipe })
    .from(frameFigures)
    .where(eq(frameFigures.shotId, shotId))
    .groupBy(frameFigures.recipe)
    .orderBy(desc(max(frameFigures.createdAt)))
    .limit(KEPT)
    .all()
    .map((r) => r.recipe);
  db.delete(frameFigures)
    .where(and(eq(frameFigures.shotId, shotId), notInArray(frameFigures.recipe, [...newest, recipe])))
    .run();
}
