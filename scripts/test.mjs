/** npm test: installs what is missing, then checks types, style and imports, runs unit tests, builds, runs browser tests. */
import { ensureBuilt, ensureChromium, ensureCompiled, ensureFfmpeg, ensureNode, ensurePackages, run, say } from "./setup.mjs";

/** A Debian package at a time: two would wait for one lock. */
async function ensurePrograms() {
  await ensureFfmpeg();
  await ensureChromium();
}

ensureNode();
await Promise.all([ensurePackages(), ensurePrograms()]);

const step = async (name, command, args) => {
  say(name);
  if ((await run(command, args)) === 0) return;
  console.error(`\n${name}: failed`);
  process.exit(1);
};
/** What one core can do while the other compiles. */
async function withoutDatabase() {
  await step("Types", "npx", ["--no-install", "astro", "check", "--minimumFailingSeverity", "error"]);
  await step("Style", "npx", ["--no-install", "biome", "ci", "."]);
  await step("Imports", "npx", ["--no-install", "depcruise", "src", "--config", ".dependency-cruiser.cjs"]);
  await ensureBuilt();
}
await Promise.all([ensureCompiled(), withoutDatabase()]);
await step("Unit tests", "npx", ["--no-install", "vitest", "run"]);
await step("Browser tests", "npx", ["--no-install", "playwright", "test"]);
say("All passed");
