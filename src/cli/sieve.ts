import { mkdirSync, readFileSync, statSync } from "node:fs";
import path from "node:path";
import { MessageChannel } from "node:worker_threads";
import { Command, CommanderError, Option } from "commander";
import { logCurveSchema } from "../core/color/log";
import { TRANSFERS, type Transfer } from "../core/color/transfer";
import { chromaFormat } from "../core/documents/media-info";
import { linesOf, type Plane } from "../core/image/plane";
import { decodeRawFrame, type RawFrame } from "../core/image/raw-frame";
import { followThrough, shapeKeysFollowed } from "../core/matte/follow";
import { describeFringes } from "../core/measure/fringes";
import { scoreMatte } from "../core/measure/score";
import { proposeRecipe } from "../core/recipe/auto";
import { holdUnsolved } from "../core/recipe/new-shape";
import { cleanReading, plateReading } from "../core/recipe/reading";
import { defaultRecipe, parseRecipe, type Recipe } from "../core/recipe/schema";
import { reportPlate } from "../core/screen/report";
import { asComplaint, Complaint } from "../server/files/complaint";
import { writeAside } from "../server/files/write-aside";
import { writeCleanPlate } from "../server/jobs/clean-plate-file";
import { EMITS, type Emit, type PullTask, pulledFile, writePulled } from "../server/jobs/pulled-files";
import { type Footage, FRAMES_PER_TASK, inStretches } from "../server/jobs/render";
import { inThread } from "../server/jobs/threads";
import { FORMATS, type StillOutput } from "../server/media/encode";
import { FrameReader } from "../server/media/frames";
import { probeFile } from "../server/media/probe";
import { isPattern, probeSequence } from "../server/media/sequences";

class UsageError extends Error {}

async function openFootage(name: string): Promise<Footage> {
  const file = path.resolve(name);
  if (statSync(file, { throwIfNoEntry: false })?.isDirectory())
    throw new Complaint(422, `${name} is a folder.`, "Name a still or a clip in it, or a sequence like name.%04d.png.");
  try {
    return { file, info: isPattern(file) ? await probeSequence(file) : await probeFile(file) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") throw new Complaint(404, `${name} does not exist.`, "Check the path.");
    throw error instanceof Complaint ? error.of(name) : error;
  }
}

const wholeNumber = (text: string): number => {
  const n = Number(text);
  if (!Number.isInteger(n) || n < 1) throw new UsageError(`"${text}" is not a frame number; frames are numbered from 1.`);
  return n;
};

const CURVE = `how codes are read, where the file does not say it: ${TRANSFERS.join(", ")}, or a logarithm's seven numbers: slope,gain,offset,base,cut,linear slope,linear base`;

/** A curve by its name, or by its numbers. */
function curveOf(text: string): Transfer {
  const named = TRANSFERS.find((t) => t === text);
  if (named) return named;
  const [slope, gain, offset, base, cut, linearSlope, linearBase, ...rest] = text.split(",").map(Number);
  const parsed = logCurveSchema.safeParse({ slope, gain, offset, base, cut, linearSlope, linearBase });
  if (parsed.success && rest.length === 0) return parsed.data;
  throw new UsageError(`"${text}" is no curve. It is ${CURVE}.`);
}

/** A recipe that says nothing but how the plate is read. */
const readAs = (curve: Transfer | undefined): Recipe => (curve ? { ...defaultRecipe(), plate: { transfer: curve } } : defaultRecipe());

const readRaw = (footage: Footage, frame: number): Promise<RawFrame> => new FrameReader(footage.file, footage.info).frame(frame);

function readRecipe(file: string): Recipe {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    throw new Complaint(404, `${file} cannot be read.`, "Check the path.");
  }
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new Complaint(422, `${file} is no JSON, as recipes are.`, "Name a recipe, or make a new one with auto.");
  }
  try {
    return parseRecipe(read);
  } catch (error) {
    throw new Complaint(422, `${file}: ${(error as Error).message}`, "Correct it, or make a new one with auto.");
  }
}

/** One channel of a still as a matte: whole codes read as linear coverage. */
async function readMatte(name: string): Promise<Plane> {
  const footage = await openFootage(name);
  const raw = await new FrameReader(footage.file, footage.info).frame(1);
  const picture = decodeRawFrame(raw, { ...footage.info.reading, transfer: "linear" });
  return { width: picture.width, height: picture.height, data: picture.r };
}

const print = (json: boolean | undefined, value: object, lines: () => string[]) =>
  console.log(json ? JSON.stringify(value) : lines().join("\n"));

const program = new Command("sieve")
  .description("Pull a key, measure it and render it, with no server running.")
  .exitOverride()
  .configureOutput({ writeErr: (text) => process.stderr.write(text) });

program
  .command("report <plate>")
  .description("measure a plate: screen colour, evenness, level, noise, chroma format, findings")
  .option("--frame <n>", "frame to look at", wholeNumber, 1)
  .option("--curve <curve>", CURVE, curveOf)
  .option("--json", "print one JSON object")
  .action(async (plate: string, o: { frame: number; curve?: Transfer; json?: boolean }) => {
    const footage = await openFootage(plate);
    const { info } = footage;
    const raw = await readRaw(footage, o.frame);
    const reading = plateReading(info.reading, readAs(o.curve));
    const report = reportPlate(decodeRawFrame(raw, reading), {
      transfer: reading.transfer,
      chromaFormat: chromaFormat(info),
      pixelAspect: info.pixelAspect,
      raw,
    });
    print(o.json, { plate, frame: o.frame, file: info, ...report }, () => [
      `${path.basename(plate)}, frame ${o.frame}: ${info.width}×${info.height}, ${report.chromaFormat}, ${info.codec}`,
      `screen      hue ${report.screen.hue.toFixed(1)}°, saturation ${(100 * report.screen.saturation).toFixed(0)} %, level ${report.screen.level.toFixed(0)} % BT.709, ${(100 * report.screen.share).toFixed(0)} % of the frame`,
      `evenness    ±${report.evenness.deviation.toFixed(2)} st, ${report.evenness.spread.toFixed(2)} st from 5th to 95th percentile; gradient ${report.evenness.gradient.stops.toFixed(2)} st, creases ±${report.evenness.wrinkles.toFixed(2)} st`,
      `level       ${report.screen.schools.map((s) => `${s.school}: ${s.measured} ${s.met ? "(met)" : "(not met)"}`).join("; ")}`,
      `noise       red ${report.noise.r.toFixed(2)} %, green ${report.noise.g.toFixed(2)} %, blue ${report.noise.b.toFixed(2)} %`,
      `recording   true chroma ${report.traces.mosaic ? "from a mosaic" : (report.traces.trueChroma ?? "as stored")}, blocking +${(100 * report.traces.blocking).toFixed(0)} %, combing ${(100 * report.traces.combing).toFixed(2)} %`,
      `lens        ${report.fringes.red || report.fringes.blue ? describeFringes(report.fringes) : "no fringes told"}; ${report.overshoot ? `sharpened, at least ${(100 * report.overshoot).toFixed(0)} % beyond edges` : "no sharpening told"}`,
      `subject     spill ${(100 * report.subject.spill).toFixed(1)} %, edges ${report.edges.median.toFixed(1)} px, ${report.edges.widest.toFixed(1)} px where widest`,
      ...report.findings.map((f) => `finding     ${f.what} (${f.figure}). ${f.remedy}. [${f.step}]`),
    ]);
  });

program
  .command("auto <plate>")
  .description("propose a complete recipe from measurement alone")
  .requiredOption("--recipe <file>", "where the recipe is written")
  .option("--clean <clean>", "clean plate: the same view without the subject")
  .option("--frame <n>", "frame to measure", wholeNumber, 1)
  .option("--curve <curve>", CURVE, curveOf)
  .option("--hold", "add holdouts along what stays half open; in a clip they follow what they hold")
  .option("--json", "print one JSON object")
  .action(async (plate: string, o: { recipe: string; clean?: string; frame: number; curve?: Transfer; hold?: boolean; json?: boolean }) => {
    const footage = await openFootage(plate);
    const proposal = await propose(footage, o.frame, o.clean ? await openFootage(o.clean) : undefined, o.curve);
    const held = o.hold ? holdUnsolved(proposal.recipe, proposal.notSolved) : proposal.recipe;
    const { recipe, followed } = o.hold ? await followHeld(footage, held, o.frame) : { recipe: held, followed: [] };
    writeAside(path.resolve(o.recipe), Buffer.from(`${JSON.stringify(recipe, null, 2)}\n`));
    print(o.json, { recipe: o.recipe, reasons: proposal.reasons, notSolved: proposal.notSolved.map((n) => n.what), followed }, () => [
      ...proposal.reasons,
      ...proposal.notSolved.map((n) => n.what),
      ...followed,
      `Written to ${o.recipe}`,
    ]);
  });

/** Keys the shapes of a recipe by what lies under them, from a frame to both ends of a clip. @returns in words how far each was followed */
async function followHeld(footage: Footage, recipe: Recipe, frame: number): Promise<{ recipe: Recipe; followed: string[] }> {
  const { frames, reading } = footage.info;
  const { garbage } = recipe.bounds;
  if (frames === 1 || garbage.length === 0) return { recipe, followed: [] };
  const read = plateReading(reading, recipe);
  const reader = new FrameReader(footage.file, footage.info);
  const picture = async (n: number) => decodeRawFrame(await reader.frame(n), read);
  const grounds = garbage.map(({ points }) => ({ points, outline: points }));
  const frameDone = showProgress(frames - 1);
  const towards = async (to: number) =>
    to === frame
      ? null
      : followThrough(picture, grounds, frame, to, async () => {
          frameDone();
          return true;
        });
  const sides = [await towards(1), await towards(frames)];
  endProgress();
  const shapes = garbage.map((shape, k) => {
    const found = sides.map((side) => side?.[k] ?? null);
    const [first, last] = found.map((f) => f?.outlines[f.outlines.length - 1]?.frame ?? frame) as [number, number];
    const keys = found.reduce((had, f) => (f ? shapeKeysFollowed(had, f, linesOf(footage.info)) : had), shape.keys);
    const lost = found.flatMap((f) => (f?.lost ? [`; lost on frame ${f.lost.frame}: ${f.lost.why}`] : []));
    const how = `${shape.name}: followed over frames ${first} to ${last}, ${keys.length} keys${lost.join("")}.`;
    return { shape: { ...shape, keys }, how };
  });
  return {
    recipe: { ...recipe, bounds: { ...recipe.bounds, garbage: shapes.map((s) => s.shape) } },
    followed: shapes.map((s) => s.how),
  };
}

/** A clean plate has no hash before it is brought in; recipes written by the command name it by this. */
const SUPPLIED = "0".repeat(64);

async function propose(footage: Footage, frame: number, clean?: Footage, curve?: Transfer) {
  const raw = await readRaw(footage, frame);
  const base = readAs(curve);
  const reading = plateReading(footage.info.reading, base);
  return proposeRecipe(decodeRawFrame(raw, reading), frame, base, {
    recorded: { raw, reading },
    ...(clean
      ? {
          clean: {
            id: SUPPLIED,
            picture: decodeRawFrame(await readRaw(clean, 1), cleanReading(clean.info.reading, footage.info.reading, base)),
          },
        }
      : {}),
  });
}

function parseEmits(text: string): Emit[] {
  const emits = text.split(",").map((e) => e.trim());
  for (const e of emits)
    if (!(EMITS as readonly string[]).includes(e)) throw new UsageError(`"${e}" is not an output; choose from ${EMITS.join(", ")}.`);
  return emits as Emit[];
}

function parseRange(text: string | undefined, frames: number): [number, number] {
  if (!text) return [1, frames];
  const [a, b] = text.split("-").map(wholeNumber) as [number, number | undefined];
  const last = b ?? a;
  if (last < a) throw new UsageError(`The range ${text} runs backwards.`);
  if (last > frames) throw new Complaint(422, `There is no frame ${last}.`, `The plate has frames 1 to ${frames}.`);
  return [a, last];
}

/** Pulls frames in as many threads as the machine has cores; what fits one of them stays in this one, which has started already. */
async function pullAll(task: PullTask, done: () => void): Promise<void> {
  if (task.frames.length <= FRAMES_PER_TASK) return writePulled(task, done);
  const stop = new AbortController();
  const pull = async (frames: readonly number[]) => {
    const { port1: told, port2: report } = new MessageChannel();
    told.on("message", done);
    try {
      await inThread({ ...task, frames, report }, { name: "pullFrames", signal: stop.signal, transferList: [report] });
    } catch (error) {
      stop.abort();
      throw error;
    } finally {
      told.close();
    }
  };
  await Promise.all(inStretches(task.frames).map(pull));
}

const TO_END_OF_LINE = "\x1b[K";
/** Takes what {@link showProgress} says off the terminal. */
function endProgress(): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${TO_END_OF_LINE}`);
}

/** Says on a terminal how far the work is; elsewhere it says nothing. @returns what is called after each frame */
function showProgress(frames: number): () => void {
  const started = Date.now();
  let done = 0;
  return () => {
    done++;
    if (!process.stderr.isTTY || frames === 1) return;
    const left = Math.round(((Date.now() - started) / done / 1000) * (frames - done));
    process.stderr.write(`\r${done} of ${frames} frames, ${left} s left${TO_END_OF_LINE}`);
  };
}

program
  .command("pull <plate>")
  .description("render mattes, foregrounds and composites; without a recipe, what auto proposes")
  .requiredOption("--out <folder>", "folder for the pictures")
  .option("--recipe <file>", "recipe to use")
  .option("--clean <clean>", "clean plate: the same view without the subject")
  .option("--background <background>", "still, clip or sequence behind the subject")
  .option("--frames <a-b>", "range of frames, from 1; all without it")
  .option("--curve <curve>", `${CURVE}; a recipe names its own`, curveOf)
  .option("--emit <list>", `comma list of ${EMITS.join(", ")}`, "matte")
  .addOption(new Option("--format <format>", "file format").choices(FORMATS).default("png"))
  .option("--json", "print one JSON object")
  .action(
    async (
      plate: string,
      o: {
        out: string;
        recipe?: string;
        clean?: string;
        background?: string;
        frames?: string;
        curve?: Transfer;
        emit: string;
        format: StillOutput;
        json?: boolean;
      },
    ) => {
      const emits = parseEmits(o.emit);
      const footage = await openFootage(plate);
      const background = o.background ? await openFootage(o.background) : undefined;
      const [first, last] = parseRange(o.frames, footage.info.frames);
      const clean = o.clean ? await openFootage(o.clean) : undefined;
      if (o.recipe && o.curve) throw new UsageError("The recipe names the curve itself: leave --curve out.");
      const own = o.recipe ? readRecipe(o.recipe) : (await propose(footage, first, clean, o.curve)).recipe;
      if (!clean && own.screen.from === "supplied")
        throw new Complaint(422, "The recipe pulls against a supplied clean plate.", "Name it with --clean.");
      const recipe: Recipe = clean ? { ...own, screen: { ...own.screen, from: "supplied", cleanPlate: SUPPLIED } } : own;
      const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
      const task = {
        recipe,
        plate: footage,
        clean: clean ?? null,
        background: background ?? null,
        emits,
        format: o.format,
        folder: path.resolve(o.out),
        frames,
      };
      mkdirSync(task.folder, { recursive: true });
      await pullAll(task, showProgress(frames.length)).finally(endProgress);
      const files = frames.flatMap((frame) => emits.map((emit) => pulledFile({ ...task, folder: o.out }, emit, frame)));
      print(o.json, { frames: [first, last], files }, () => [`${files.length} files in ${o.out}`]);
    },
  );

program
  .command("clean <plate>")
  .description("make a clean plate from a whole shot with a locked-off camera")
  .requiredOption("--out <file>", "EXR file that is written")
  .option("--recipe <file>", "recipe that tells the screen; without it, what auto proposes")
  .option("--json", "print one JSON object")
  .action(async (plate: string, o: { out: string; recipe?: string; json?: boolean }) => {
    if (!/\.exr$/i.test(o.out)) throw new UsageError("The clean plate is written as EXR; name a file that ends in .exr.");
    const footage = await openFootage(plate);
    const recipe = o.recipe ? readRecipe(o.recipe) : (await propose(footage, 1)).recipe;
    const seen = await writeCleanPlate({ plate: footage, recipe, target: path.resolve(o.out) });
    print(o.json, { file: o.out, seen }, () => [
      `Written to ${o.out}; the screen itself was seen in ${(100 * seen).toFixed(1)} % of the frame.`,
    ]);
  });

program
  .command("score <matte> <truth>")
  .description("SAD, MSE, gradient and connectivity error of a matte against a known truth")
  .option("--region <mask>", "count only where this still is over half")
  .option("--json", "print one JSON object")
  .action(async (matte: string, truth: string, o: { region?: string; json?: boolean }) => {
    const score = scoreMatte(await readMatte(matte), await readMatte(truth), o.region ? await readMatte(o.region) : undefined);
    print(o.json, score, () => [
      `SAD ${score.sad.toFixed(3)}`,
      `MSE ${score.mse.toExponential(4)}`,
      `gradient ${score.gradient.toFixed(4)}`,
      `connectivity ${score.connectivity.toFixed(3)}`,
      `over ${score.pixels} pixels`,
    ]);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else if (error instanceof UsageError) {
    process.stderr.write(`sieve: ${error.message}\n`);
    process.exitCode = 2;
  } else {
    const unforeseen = new Complaint(500, `Something went wrong: ${(error as Error).message}.`, "Run it with DEBUG=1 to see where.");
    const complaint = asComplaint(error, unforeseen);
    if (complaint.status === 500 && process.env.DEBUG) console.error(error);
    process.stderr.write(`sieve: ${complaint.message.replaceAll("\n", " ").trim()}\n`);
    process.exitCode = 1;
  }
}
