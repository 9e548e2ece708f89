/** npm test: installs what is missing, then checks types, style and imports, runs unit tests, builds, runs browser tests. */
import { ensureBuilt, ensureChromium, ensureFfmpeg, ensureNode, ensurePackages, run, say } from "./setup.mjs";

ensureNode();
ensurePackages();
ensureFfmpeg();
ensureChromium();

const step = (name, command, args) => {
  say(name);
  if (run(command, args) !== 0) {
    console.error(`\n${name}: failed`);
    process.exit(1);
  }
};
step("Types", "npx", ["--no-install", "astro", "check", "--minimumFailingSeverity", "error"]);
step("Style", "npx", ["--no-install", "biome", "ci", "."]);
step("Imports", "npx", ["--no-install", "depcruise", "src", "--config", ".dependency-cruiser.cjs"]);
step("Unit tests", "npx", ["--no-install", "vitest", "run"]);
ensureBuilt();
step("Browser tests", "npx", ["--no-install", "playwright", "test"]);
say("All passed");
