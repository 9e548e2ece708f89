import os from "node:os";
import path from "node:path";
import { Piscina } from "piscina";
import { projectFolder } from "../files/folders";

const shared = globalThis as { mellowSieveThreads?: Piscina };

/** The server's threads for long work: see render-thread.ts for what they can do. */
export function threads(): Piscina {
  shared.mellowSieveThreads ??= new Piscina({
    filename: path.join(projectFolder, "dist/threads/render-thread.js"),
    maxThreads: Math.max(1, Math.min(8, os.availableParallelism())),
    idleTimeout: 30_000,
  });
  return shared.mellowSieveThreads;
}
