/** Bundles what runs on Node outside the site into dist/: the render thread and the command. Needs a fifth of a second. */
import { mkdirSync, renameSync, writeFileSync } from "node:fs";
import path from "node:path";
import { build } from "esbuild";
import { root } from "./setup.mjs";

const { outputFiles } = await build({
  absWorkingDir: root,
  entryPoints: { "threads/render-thread": "src/server/jobs/render-thread.ts", "cli/sieve": "src/cli/sieve.ts" },
  outdir: "dist",
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  packages: "external",
  sourcemap: true,
  write: false,
});
// Renamed into place whole: another command may be reading them.
for (const { path: file, contents } of outputFiles) {
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(`${file}.${process.pid}`, contents);
  renameSync(`${file}.${process.pid}`, file);
}
