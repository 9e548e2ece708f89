/** Installs what is missing: packages, ffmpeg, Chromium. Uses nothing but Node, so that it works in a fresh clone. */
import { spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { accessSync, constants, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

// Written so that Node that is too old comes as far as to be told so.
export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), "..");

const started = Date.now();
export const say = (text) => console.log(`[${((Date.now() - started) / 1000).toFixed(0).padStart(3)} s] ${text}`);

/** Ends with a plain word on what to do. */
export function stop(what, remedy) {
  console.error(`\n${what}\n${remedy}`);
  process.exit(1);
}

const running = new Set();
process.on("exit", () => {
  for (const child of running) child.kill();
});
/** Runs a program; it ends with this one. @returns its exit code; 127 where there is none of that name */
export function run(command, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: "inherit", ...options });
    const ended = (code) => {
      running.delete(child);
      resolve(code);
    };
    running.add(child);
    child.on("error", () => ended(127));
    child.on("close", (code) => ended(code ?? 1));
  });
}

const onPath = (name) =>
  (process.env.PATH ?? "").split(path.delimiter).some((folder) => {
    try {
      accessSync(path.join(folder, name), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });

const lockHash = () =>
  createHash("sha256")
    .update(readFileSync(path.join(root, "package-lock.json")))
    .update(process.version)
    .digest("hex");

export function ensureNode() {
  const [major = 0, minor = 0] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    stop(`Node ${process.versions.node} is too old.`, "Install Node 20.19 or newer and run the command again.");
}

/** Does something once for the packages that are locked, and remembers it among them. */
async function once(stamp, work) {
  const file = path.join(root, "node_modules", stamp);
  if (existsSync(file) && readFileSync(file, "utf8") === lockHash()) return;
  await work();
  writeFileSync(file, lockHash());
}

/** The packages themselves; what of them has to be compiled is left to {@link ensureCompiled}. */
export const ensurePackages = () =>
  once(".mellow-sieve", async () => {
    say("Installing packages (half a minute or so)…");
    if ((await run("npm", ["ci", "--ignore-scripts", "--no-audit", "--no-fund", "--loglevel=error"])) !== 0)
      stop("The packages could not be installed.", "Check the network to the npm registry.");
  });

/** SQLite: it takes longer than all the rest, on one core, so that much can be done beside it. */
export const ensureCompiled = () =>
  once(".mellow-sieve-compiled", async () => {
    say("Compiling SQLite (a minute or two the first time)…");
    if ((await run("npm", ["rebuild", "--loglevel=error"])) !== 0)
      stop("SQLite could not be compiled.", "It may need a compiler: apt-get install -y python3 make g++");
  });

/** Installs a Debian package when a program is missing. @returns whether the program is there now */
async function ensureProgram(program, debian) {
  if (onPath(program)) return true;
  if (!onPath("apt-get")) return false;
  const sudo = process.getuid?.() === 0 ? [] : onPath("sudo") ? ["sudo", "-n"] : null;
  if (!sudo) return false;
  say(`Installing ${debian} (Debian package)…`);
  const apt = (...args) => {
    const [command, ...rest] = [...sudo, "apt-get", ...args];
    return run(command, rest, { stdio: ["ignore", "ignore", "inherit"], env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } });
  };
  if ((await apt("install", "-y", "-qq", "--no-install-recommends", debian)) !== 0) {
    await apt("update", "-qq");
    await apt("install", "-y", "-qq", "--no-install-recommends", debian);
  }
  return onPath(program);
}

export async function ensureFfmpeg() {
  if (process.env.FFMPEG_PATH || (await ensureProgram("ffmpeg", "ffmpeg"))) return;
  say("ffmpeg is not on this machine and could not be installed; the packaged one is used.");
}

export async function ensureChromium() {
  if (process.env.CHROMIUM_PATH || (await ensureProgram("chromium", "chromium"))) return;
  stop(
    "The browser tests need Chromium.",
    "As root: apt-get update && apt-get install -y chromium — or set CHROMIUM_PATH to its executable.",
  );
}

const SOURCES = ["src", "public", "astro.config.mjs", "package-lock.json", "tsconfig.json", "scripts/build.mjs", "scripts/bundle.mjs"];
function newest(file) {
  if (!existsSync(file)) return 0;
  const s = statSync(file);
  if (!s.isDirectory()) return s.mtimeMs;
  return Math.max(s.mtimeMs, ...readdirSync(file).map((n) => newest(path.join(file, n))));
}

/** Whether any of some files and folders of the project is newer than what was made of them. */
export const isNewer = (sources, made) => newest(made) <= Math.max(...sources.map((s) => newest(path.join(root, s))));

export async function ensureBuilt() {
  const stamp = path.join(root, "dist", ".built");
  if (!isNewer(SOURCES, stamp)) return;
  say("Building…");
  if ((await run(process.execPath, ["scripts/build.mjs"])) !== 0) stop("The build failed.", "The lines above say where.");
  mkdirSync(path.join(root, "dist"), { recursive: true });
  writeFileSync(stamp, "");
}
