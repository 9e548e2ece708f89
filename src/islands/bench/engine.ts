import * as Comlink from "comlink";
import type { Region } from "../../core/image/plane";
import type { Recipe } from "../../core/recipe/schema";
import type { Drawn, DrawRequest, KeyWorkerApi } from "../../workers/key-worker";
import { smallReduce } from "../../workers/small";
import type { View } from "../../workers/views";
import { toCanvas } from "./drawn";
import { recallFigures } from "./shot-figures";
import {
  cleanFootage,
  complain,
  currentPass,
  figuresMeasured,
  plateFootage,
  type Step,
  shownRecipe,
  useBench,
  viewedRecipe,
  withFootage,
} from "./store";

const start = () => Comlink.wrap<KeyWorkerApi>(new Worker(new URL("../../workers/key-worker.ts", import.meta.url), { type: "module" }));

let drawer: ReturnType<typeof start> | undefined;
let measurer: ReturnType<typeof start> | undefined;
/** The worker that draws the viewer and samples: never kept waiting by measuring. */
export const drawWorker = () => (drawer ??= start());
/** The worker that measures, proposes and draws the ladder's small pictures. */
export const measureWorker = () => (measurer ??= start());

/** The worker that measures a bracket's variants: the drawing one while the other is still at the frame itself. */
export const bracketWorker = () => (measuring ? drawWorker() : measureWorker());

/** Loads both while the shot is on its way. */
export function startWorkers(): void {
  drawWorker();
  measureWorker();
}

/** What the viewer shows, in the frame's pixels: set by the viewer when it is laid out, panned or zoomed. */
export interface Window {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Device pixels for a frame pixel. */
  readonly density: number;
}

let shown: Window | undefined;
let dirty = false;
let drawing = false;

export function setWindow(window: Window): void {
  shown = window;
  requestDraw();
}

/** The middle of what the viewer shows, of the given width over height, px of the plate: as tall as a quarter of the frame at the most. */
export function cropLookedAt(aspect: number): Region | null {
  const { width, height } = useBench.getState().shot.plate.info;
  if (!shown) return null;
  const tall = Math.max(16, Math.round(Math.min(shown.height, shown.width / aspect, height / 4)));
  const wide = Math.round(Math.min(width, tall * aspect));
  const within = (middle: number, size: number, all: number) => Math.round(Math.min(all - size, Math.max(0, middle - size / 2)));
  return {
    x: within(shown.x + shown.width / 2, wide, width),
    y: within(shown.y + shown.height / 2, tall, height),
    width: wide,
    height: tall,
  };
}

/**
 * Pixels that one drawing may cost while a hand moves; above, the picture is reduced first and completed at rest. What is
 * moved decides how long they take (a matte level little, a pull much), so the bound follows what the last one took.
 */
let handPixels = 350_000;
const HAND_LEAST = 100_000;
const HAND_MOST = 500_000;
/** What a drawing under a hand should take, and how far it may be off before the bound is changed, ms. */
const HAND_MS = { least: 18, most: 45 };

function learnHand(took: number): void {
  if (took > HAND_MS.most) handPixels = Math.max(HAND_LEAST, 0.6 * handPixels);
  else if (took < HAND_MS.least) handPixels = Math.min(HAND_MOST, 1.25 * handPixels);
}

/** What the viewer shows now, as the workers need to know it. @param hand at reduced size, as fits under a moving hand */
export function drawRequest(hand: boolean): DrawRequest | null {
  const s = useBench.getState();
  if (!shown || !s.shot) return null;
  const recipe = viewedRecipe(s);
  const { width: fw, height: fh } = s.shot.plate.info;
  let reduce = Math.max(1, Math.floor(1 / shown.density + 1e-6));
  const whole = shown.x <= 0 && shown.y <= 0 && shown.x + shown.width >= fw && shown.y + shown.height >= fh;
  const width = whole ? fw : Math.min(shown.width, fw);
  const height = whole ? fh : Math.min(shown.height, fh);
  if (hand) while ((width * height) / (reduce * reduce) > handPixels) reduce++;
  return {
    ...withFootage(recipe),
    frame: s.view.frame,
    view: s.view.view,
    ground: s.view.ground,
    stretch: s.view.stretch,
    // With one pass there is nothing to tell apart.
    ...(recipe.passes.length > 1 ? { pass: currentPass(s).id } : {}),
    reduce,
    ...(whole ? {} : { region: { x: shown.x, y: shown.y, width: shown.width, height: shown.height } }),
  };
}

let warmed: { recipe: Recipe; frame: number } | null = null;
/** Has the measuring worker ready what a bracket's figures start from: when all is measured, or a hand comes near its button. */
export function warmBracket(): void {
  const { recipe, live, view } = useBench.getState();
  if (live || !recipe.screen.colour || (warmed?.recipe === recipe && warmed.frame === view.frame)) return;
  warmed = { recipe, frame: view.frame };
  void measureWorker()
    .smallFigures(recipe, plateFootage(), cleanFootage(recipe), view.frame)
    .catch(() => {});
}

/** How a recipe is looked at. */
type Look = Pick<DrawRequest, "view" | "ground">;

/** A picture drawn before it is asked for, and what was asked. */
let ahead: { readonly of: string; readonly drawn: Promise<Drawn> } | undefined;

/**
 * Draws a recipe that is about to be set, as it will be looked at, by the worker that measured it and has its steps: the one that draws
 * would start from nothing.
 */
export function drawAhead(recipe: Recipe, look: Look): void {
  const request = drawRequest(false);
  if (!request) return;
  const asked = { ...request, ...withFootage(recipe), ...look };
  const of = JSON.stringify(asked);
  if (ahead?.of === of) return;
  ahead = { of, drawn: measureWorker().draw(asked) };
  ahead.drawn.catch(() => {});
}

/** The picture that was drawn ahead, if it is the one that is wanted; once. */
async function drawnAhead(wanted: DrawRequest): Promise<Drawn | null> {
  const { live, four, compare } = useBench.getState();
  if (!ahead || live || four || compare || ahead.of !== JSON.stringify(wanted)) return null;
  const { drawn } = ahead;
  ahead = undefined;
  return drawn.catch(() => null);
}

/** Has the drawing worker make its own steps of what it did not draw itself, those under a moving hand first, until it is needed. */
async function warmDrawing(quick: DrawRequest, full: DrawRequest): Promise<void> {
  for (const request of [quick, full]) if (!drawing) await drawWorker().draw(request);
}

/** Has the picture ready of a recipe that may be set next: as it would be drawn then. */
export async function warmView(recipe: Recipe, look: Look): Promise<void> {
  drawAhead(recipe, look);
  await ahead?.drawn;
  const [quick, full] = [drawRequest(true), drawRequest(false)];
  const set = { ...withFootage(recipe), ...look };
  if (quick && full) await warmDrawing({ ...quick, ...set }, { ...full, ...set });
}

/** How long a hand must rest until the picture under it is completed, ms; what it moves meanwhile is drawn at once. */
const REST_MS = 120;
/** What waits for the hand to rest. */
const resting: { draw?: ReturnType<typeof setTimeout>; measure?: ReturnType<typeof setTimeout> } = {};

/** Redraws with what is current. Calls while a drawing runs fold into one that follows. */
export function requestDraw(): void {
  dirty = true;
  if (!useBench.getState().drawing) useBench.setState({ drawing: true });
  clearTimeout(resting.draw);
  if (drawing) return;
  drawing = true;
  // What is changed in one go is drawn once.
  queueMicrotask(() => void drawLoop());
}

/** @param completed false where only the full picture of what was drawn quickly is wanted */
async function drawLoop(completed = true): Promise<void> {
  drawing = true;
  while (dirty || !completed) {
    const hand = dirty;
    dirty = false;
    const quick = drawRequest(hand);
    if (!quick) {
      completed = false;
      break;
    }
    // The first answer to a change is a quick one; the full picture follows when nothing newer waits.
    const full = hand ? drawRequest(false) : quick;
    completed = quick.reduce === full?.reduce;
    try {
      const ready = hand && full && (await drawnAhead(full));
      if (ready) {
        useBench.setState({ drawn: ready, fourDrawn: [], compareDrawn: null, problem: null });
        completed = true;
        // Once this loop is at its end.
        queueMicrotask(() => void warmDrawing(quick, full).catch(() => {}));
        continue;
      }
      const started = performance.now();
      const { four } = useBench.getState();
      const pictures: Drawn[] = [];
      for (const view of four ?? [quick.view]) pictures.push(await drawWorker().draw({ ...quick, view }));
      if (hand && useBench.getState().live) learnHand(performance.now() - started);
      const compared = four ? null : await drawCompared(quick);
      useBench.setState({ drawn: pictures[0] as Drawn, fourDrawn: four ? pictures : [], compareDrawn: compared, problem: null });
    } catch (error) {
      useBench.setState({ problem: error instanceof Error ? error.message : String(error) });
      completed = true;
    }
    if (!completed && !dirty && useBench.getState().live) {
      resting.draw = setTimeout(() => !drawing && void drawLoop(false), REST_MS);
      break;
    }
  }
  drawing = false;
  if (completed) useBench.setState({ drawing: false });
}

async function drawCompared(request: DrawRequest): Promise<Drawn | null> {
  const { compare, versions } = useBench.getState();
  const version = compare && versions.find((v) => v.id === compare.versionId);
  if (!version) return null;
  return drawWorker().draw({
    ...request,
    ...withFootage(version.recipe),
  });
}

// --- Measuring ----------------------------------------------------------------------------------------------------

let measureDirty = false;
let measuring = false;
/** Pause between two measurings under a moving hand, ms, so that they do not take the drawing's time. */
const MEASURE_PAUSE_MS = 100;

export function requestMeasure(): void {
  measureDirty = true;
  clearTimeout(resting.measure);
  if (!measuring) void measureLoop();
}

const THUMBS: readonly (readonly [Step, View])[] = [
  ["Plate", "plate"],
  ["Screen", "plate"],
  ["Bounds", "bounds"],
  ["Pull", "pull"],
  ["Matte", "matte"],
  ["Spill", "spillRemoved"],
  ["Edge", "composite"],
  ["Scene", "composite"],
  ["Proof", "stretched"],
  ["Deliver", "composite"],
];

async function measureLoop(): Promise<void> {
  measuring = true;
  while (measureDirty) {
    measureDirty = false;
    const s = useBench.getState();
    const { recipe, live, view } = s;
    const { info } = s.shot.plate;
    try {
      const shownNow = live ?? recipe;
      const figures = await measureWorker().measure(
        shownNow,
        plateFootage(),
        cleanFootage(shownNow),
        view.frame,
        live ? smallReduce(info) : 1,
      );
      const now = useBench.getState();
      if (shownRecipe(now) === shownNow && now.view.frame === view.frame) {
        useBench.setState({ figures, exact: live === null });
      }
      // Figures go to the log at once, whatever comes next.
      const picture = figures && !live ? figuresMeasured(recipe, view.frame, figures) : null;
      if (live) await new Promise((r) => setTimeout(r, MEASURE_PAUSE_MS));
      if (!live && !measureDirty) await drawThumbs();
      // And a small picture, unless something newer is there already.
      const thumb = useBench.getState().recipe === recipe ? thumbAddress() : null;
      if (thumb) picture?.(thumb);
      if (!live && !measureDirty && figures) await findFaults();
      if (!measureDirty) warmBracket();
    } catch (error) {
      useBench.setState({ figures: null, exact: false });
      if (!(error instanceof Error && /screen colour/i.test(error.message))) complain(error);
    }
  }
  measuring = false;
  resting.measure = setTimeout(() => void findBlinking().catch(complain), BLINKING_AFTER_MS);
}

/** Width of the picture that an entry of the log keeps, px. */
const LOGGED_WIDTH = 160;

/** The composite's small picture as a data address. */
function thumbAddress(): string | null {
  const drawn = useBench.getState().thumbs.Scene;
  if (!drawn) return null;
  const c = document.createElement("canvas");
  c.width = LOGGED_WIDTH;
  c.height = Math.round((LOGGED_WIDTH * drawn.height) / drawn.width);
  const ctx = c.getContext("2d") as CanvasRenderingContext2D;
  ctx.imageSmoothingQuality = "high";
  ctx.drawImage(toCanvas(drawn), 0, 0, c.width, c.height);
  return c.toDataURL("image/jpeg", 0.8);
}

async function drawThumbs(): Promise<void> {
  const s = useBench.getState();
  const { info } = s.shot.plate;
  for (const [step, view] of THUMBS) {
    if (measureDirty) return;
    const drawn = await measureWorker().draw({
      ...withFootage(s.recipe),
      frame: s.view.frame,
      view,
      ground: step === "Edge" ? "bright" : step === "Deliver" ? "checker" : "scene",
      reduce: smallReduce(info),
    });
    useBench.setState({ thumbs: { ...useBench.getState().thumbs, [step]: drawn } });
  }
}

/** How long a frame must be looked at until its neighbours are pulled for what blinks, ms. */
const BLINKING_AFTER_MS = 1200;

/** The shown frame and pass, to be judged. */
const judged = (s: ReturnType<typeof useBench.getState>) => ({ ...withFootage(s.recipe), frame: s.view.frame, pass: currentPass(s).id });

/** Findings of the shown frame; they follow the figures and the small pictures. */
async function findFaults(): Promise<void> {
  const s = useBench.getState();
  const { recipe, view } = s;
  const reduce = Math.max(1, Math.round(s.shot.plate.info.width / 1280));
  const found = await measureWorker().findings(judged(s), reduce);
  const now = useBench.getState();
  if (now.recipe === recipe && now.view.frame === view.frame) useBench.setState({ findings: { recipe, frame: view.frame, ...found } });
}

/** What blinks on the shown frame; asks for the neighbouring frames as well, so it is told after the others, when the hand has rested. */
async function findBlinking(): Promise<void> {
  const s = useBench.getState();
  const { recipe, view, findings } = s;
  if (s.shot.plate.info.frames < 2 || s.live || s.playing || findings?.recipe !== recipe || findings.frame !== view.frame) return;
  const blinking = await measureWorker().blinking(judged(s));
  if (blinking && useBench.getState().findings === findings)
    useBench.setState({ findings: { ...findings, list: [...findings.list, blinking] } });
}

/** Draws and measures whenever something changes that they depend on. Returns what stops it. */
export function startEngine(): () => void {
  requestDraw();
  requestMeasure();
  void recallFigures();
  return useBench.subscribe((now, was) => {
    if (now.saving === "saved" && was.saving !== "saved" && now.proof?.recipe !== now.recipe) void recallFigures();
    // Playing draws its own pictures, and nothing is measured meanwhile.
    if (now.playing) return;
    if (was.playing) {
      requestDraw();
      requestMeasure();
      return;
    }
    const recipeChanged = shownRecipe(now) !== shownRecipe(was);
    const frameChanged = now.view.frame !== was.view.frame;
    if (
      recipeChanged ||
      frameChanged ||
      now.view.view !== was.view.view ||
      now.view.ground !== was.view.ground ||
      now.media !== was.media ||
      now.view.stretch !== was.view.stretch ||
      now.compare?.versionId !== was.compare?.versionId ||
      now.solo !== was.solo ||
      now.four !== was.four ||
      now.selectedPass !== was.selectedPass
    )
      requestDraw();
    if (recipeChanged || frameChanged || now.live !== was.live) requestMeasure();
  });
}
