/** npm test: installs what is missing, then checks types, style and imports, runs unit tests, builds, runs browser tests. */
import { ensureBuilt, ensureChromium, ensureFfmpeg, ensureNode, ensurePackages, run, say } from "./setup.mjs";

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
async function styleAndImports() {
  await step("Style", "npx", ["--no-install", "biome", "ci", "."]);
  await step("Imports", "npx", ["--no-install", "depcruise", "src", "--config", ".dependency-cruiser.cjs"]);
}
await Promise.all([step("Types", "npx", ["--no-install", "astro", "check", "--minimumFailingSeverity", "error"]), styleAndImports()]);
await Promise.all([step("Unit tests", "npx", ["--no-install", "vitest", "run"]), ensureBuilt()]);
await step("Browser tests", "npx", ["--no-install", "playwright", "test"]);
say("All passed");
